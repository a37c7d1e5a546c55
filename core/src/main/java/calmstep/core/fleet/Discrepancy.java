package calmstep.core.fleet;

import calmstep.core.catalogue.Hardware;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Something that the inventory says of a device and the device says otherwise. What only one of
 * them says is none.
 *
 * @param what {@code model}, {@code revision}, {@code region}, {@code brand}, {@code features},
 *     {@code serial number}, or the number of its members, boards or partners
 * @param written the inventory's word
 * @param shown the device's word
 */
public record Discrepancy(String what, String written, String shown) {
    /**
     * Access points come and go with whoever moves house: how many there are is no question of
     * which box this is.
     */
    private static final Set<Part.Kind> COUNTED =
            Set.of(Part.Kind.MEMBER, Part.Kind.PARTNER, Part.Kind.LINE_BOARD);

    /** All of a device. */
    public static List<Discrepancy> of(Device device, Reading reading) {
        List<Discrepancy> found =
                new ArrayList<>(between(device.hardware(), device.serial(), reading));
        differ(
                "features",
                words(device.hardware().features()),
                words(reading.identity().features()),
                found);
        Stream.of(Part.Kind.values())
                .filter(COUNTED::contains)
                .forEach(
                        kind ->
                                differ(
                                        "number of %ss"
                                                .formatted(kind.toString().replace('-', ' ')),
                                        count(device.parts().stream(), kind),
                                        count(
                                                reading.parts().stream()
                                                        .map(Reading.PartShown::part),
                                                kind),
                                        found));
        return List.copyOf(found);
    }

    /** Those that tell one box from another: a feature may come and go with an image. */
    public static List<Discrepancy> between(Hardware written, String serial, Reading reading) {
        Reading.Identity shown = reading.identity();
        List<Discrepancy> found = new ArrayList<>();
        differ("model", written.model(), shown.model(), found);
        differ("revision", written.revision(), shown.revision(), found);
        differ("region", written.region(), shown.region(), found);
        // An image for unbranded units can spoil a branded one: there, silence is a word.
        if (!shown.brand().isEmpty() && !shown.brand().equals(written.brand())) {
            found.add(
                    new Discrepancy(
                            "brand",
                            written.brand().isEmpty() ? "none" : written.brand(),
                            shown.brand()));
        }
        differ("serial number", serial, shown.serial(), found);
        return found;
    }

    private static void differ(String what, String written, String shown, List<Discrepancy> found) {
        if (!written.isEmpty() && !shown.isEmpty() && !written.equals(shown)) {
            found.add(new Discrepancy(what, written, shown));
        }
    }

    /** Empty where there are none: one who wrote nothing down did not write that there are none. */
    private static String count(Stream<Part> parts, Part.Kind kind) {
        long count = parts.filter(part -> part.kind() == kind).count();
        return count == 0 ? "" : String.valueOf(count);
    }

    private static String words(Set<String> features) {
        return String.join(" and ", features);
    }

    /** For example "revision B". */
    public String asWritten() {
        return what + " " + written;
    }

    /** For example "revision C". */
    public String asShown() {
        return what + " " + shown;
    }
}
