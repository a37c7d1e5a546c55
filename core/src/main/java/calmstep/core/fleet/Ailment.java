package calmstep.core.fleet;

import calmstep.core.fleet.Reading.Fact;
import calmstep.core.fleet.Reading.PartShown;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/** Something that a device says of its own health, and that speaks against disturbing it. */
public sealed interface Ailment {
    /** In words, without the device's name. */
    String sentence();

    /** A member, partner, board or dependent that does not do its part. */
    record OutOfStep(Part.Kind kind, String name, String state) implements Ailment {
        @Override
        public String sentence() {
            return "%s %s is %s".formatted(kind.toString().replace('-', ' '), name, state);
        }

        /** Whether it stands in for others, so that nothing may restart without it. */
        public boolean standsIn() {
            return kind == Part.Kind.MEMBER || kind == Part.Kind.PARTNER;
        }
    }

    /** A feed, fan or the like that is not well. */
    record NotWell(String kind, String name, String value) implements Ailment {
        @Override
        public String sentence() {
            return kind.equals(POWER)
                    ? "power %s is %s: its power is not redundant".formatted(name, value)
                    : "%s %s is %s".formatted(kind, name, value);
        }
    }

    /** A licence whose time is over, or soon is. */
    record Ends(String name, LocalDate on, boolean over) implements Ailment {
        @Override
        public String sentence() {
            return "its licence %s %s on %s".formatted(name, over ? "ended" : "ends", on);
        }
    }

    String POWER = "power";
    String FAN = "fan";
    String PARTNER = "partner";
    String LICENCE = "licence";

    /** What a family's dialect calls well, in our words. */
    Set<String> WELL = Set.of("ok", "good", "up", "present", Reading.PartShown.IN_SYNC);

    /** So far ahead plans look. */
    int SOON_DAYS = 92;

    /** All of a reading, in its own order; whether a licence is over is asked in UTC. */
    static List<Ailment> of(Reading reading, Instant now) {
        LocalDate today = LocalDate.ofInstant(now, ZoneOffset.UTC);
        List<Ailment> found = new ArrayList<>();
        reading.parts().stream()
                .filter(shown -> !shown.state().isEmpty() && !shown.isInSync())
                .map(Ailment::outOfStep)
                .forEach(found::add);
        for (Fact fact : reading.facts()) {
            switch (fact.kind()) {
                case POWER, FAN -> {
                    if (!WELL.contains(fact.value())) {
                        found.add(new NotWell(fact.kind(), fact.name(), fact.value()));
                    }
                }
                case PARTNER -> {
                    if (!WELL.contains(fact.value())) {
                        found.add(new OutOfStep(Part.Kind.PARTNER, fact.name(), fact.value()));
                    }
                }
                case LICENCE -> addLicence(fact, today, found);
                default -> {}
            }
        }
        return List.copyOf(found);
    }

    private static Ailment outOfStep(PartShown shown) {
        return new OutOfStep(shown.part().kind(), shown.name(), shown.state());
    }

    /** One that is no date is compared before and after, and not understood here. */
    private static void addLicence(Fact fact, LocalDate today, List<Ailment> found) {
        try {
            LocalDate on = LocalDate.parse(fact.value());
            if (on.isBefore(today.plusDays(SOON_DAYS))) {
                found.add(new Ends(fact.name(), on, on.isBefore(today)));
            }
        } catch (DateTimeParseException noDate) {
            // Valid for good, or told in words.
        }
    }
}
