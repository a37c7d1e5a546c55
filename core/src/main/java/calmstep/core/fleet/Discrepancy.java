package calmstep.core.fleet;

import calmstep.core.catalogue.Hardware;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
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
    private static final List<Part.Kind> COUNTED =
            List.of(Part.Kind.MEMBER, Part.Kind.PARTNER, Part.Kind.LINE_BOARD);

    /** All of a device. */
    public static List<Discrepancy> of(Device device, Reading reading) {
        List<Discrepancy> found =
                new ArrayList<>(between(device.hardware(), device.serial(), reading));
        differ(
                "features",
                words(device.hardware().features()),
                words(reading.identity().features()),
                found);
        for (Part.Kind kind : COUNTED) {
            counted(
                    kind,
                    count(device.parts().stream(), kind),
                    count(reading.parts().stream().map(Reading.PartShown::part), kind),
                    found);
        }
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

    /**
     * Where one side names none, it said nothing. A device lists itself among its partners, whoever
     * writes an inventory lists the other one. Of boards only those that others hang on are written
     * down: more of them than written are no other box, fewer are.
     */
    private static void counted(Part.Kind kind, long written, long shown, List<Discrepancy> found) {
        boolean fits =
                switch (kind) {
                    case PARTNER -> shown == written || shown == written + 1;
                    case LINE_BOARD -> shown >= written;
                    default -> shown == written;
                };
        if (written > 0 && shown > 0 && !fits) {
            String what = "number of %ss".formatted(kind.toString().replace('-', ' '));
            found.add(new Discrepancy(what, String.valueOf(written), String.valueOf(shown)));
        }
    }

    private static long count(Stream<Part> parts, Part.Kind kind) {
        return parts.filter(part -> part.kind() == kind).count();
    }

    private static String words(Set<String> features) {
        return features.stream().sorted().collect(Collectors.joining(" and "));
    }

    /** For example "revision B is written, revision C is shown". */
    public String sentence() {
        return "%1$s %2$s is written, %1$s %3$s is shown".formatted(what, written, shown);
    }

    /** All that is written, for example "model R6-4, revision B". */
    public static String written(List<Discrepancy> of) {
        return of.stream().map(d -> d.what + " " + d.written).collect(Collectors.joining(", "));
    }

    /** All that is shown, for example "model R6-4, revision C". */
    public static String shown(List<Discrepancy> of) {
        return of.stream().map(d -> d.what + " " + d.shown).collect(Collectors.joining(", "));
    }
}
