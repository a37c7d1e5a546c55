package calmstep.core.select;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Device;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;

/**
 * What a device shows to a selection by its inventory line and by what it runs; standing, exposure
 * and what is wanted come from where paths are.
 */
public final class DeviceTexts {
    private DeviceTexts() {}

    /**
     * @param familyTitle name of its family for people
     * @param siteTitle name of its site for people
     * @param runs release by component
     * @return a map that may be added to
     */
    public static Map<Field, List<String>> of(
            Device device, String familyTitle, String siteTitle, Map<String, String> runs) {
        Map<Field, List<String>> texts = new EnumMap<>(Field.class);
        texts.put(Field.NAME, List.of(device.name()));
        texts.put(Field.FAMILY, List.of(device.family(), familyTitle));
        texts.put(Field.MODEL, List.of(device.hardware().model()));
        texts.put(Field.REVISION, List.of(device.hardware().revision()));
        texts.put(Field.REGION, List.of(device.hardware().region()));
        texts.put(Field.BRAND, List.of(device.hardware().brand()));
        texts.put(Field.FEATURE, List.copyOf(device.hardware().features()));
        texts.put(Field.SERIAL, List.of(device.serial()));
        texts.put(Field.SITE, List.of(device.site(), siteTitle));
        texts.put(Field.ROLE, List.of(device.role()));
        texts.put(Field.TAG, List.copyOf(device.tags()));
        texts.put(Field.ADDRESS, List.of(device.address()));
        texts.put(Field.RUNS, List.of(runs.getOrDefault(Catalogue.SYSTEM, "")));
        return texts;
    }
}
