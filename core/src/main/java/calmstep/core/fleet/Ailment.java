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

    /**
     * A licence or support whose time is over, or soon is.
     *
     * @param kind {@link #LICENCE} or {@link #SUPPORT}
     */
    record Ends(String kind, String name, LocalDate on, boolean over) implements Ailment {
        @Override
        public String sentence() {
            return "its %s %s %s on %s".formatted(kind, name, over ? "ended" : "ends", on);
        }

        /** Whether it holds today, and no longer at a moment; days end in UTC. */
        public boolean isOverOnlyAt(Instant moment) {
            return !over && on.isBefore(LocalDate.ofInstant(moment, ZoneOffset.UTC));
        }
    }

    /** Somebody else is changing it now. */
    record InProgress(String name, String value) implements Ailment {
        @Override
        public String sentence() {
            return "another change is in progress: %s, %s".formatted(name, value);
        }
    }

    /** The sign-in that it came with from its factory still works. */
    record FactorySignIn(String name) implements Ailment {
        @Override
        public String sentence() {
            return "the sign-in %s of its factory still works".formatted(name);
        }
    }

    /** It is reached over something that the change itself may take away. */
    record ReachedBy(String name, String value) implements Ailment {
        @Override
        public String sentence() {
            return "it is reached by %s (%s), and nobody stands there with a cable"
                    .formatted(value, name);
        }
    }

    /** It is reached over a link that it carries itself. */
    record OverItsOwnLink(String name, String link) implements Ailment {
        @Override
        public String sentence() {
            return "it is reached over %s, a link of its own (%s): nobody reaches it while it is down"
                    .formatted(link, name);
        }
    }

    String POWER = "power";
    String FAN = "fan";
    String PARTNER = "partner";
    String LICENCE = "licence";
    String SUPPORT = "support";
    String CHANGE = "change-in-progress";
    String FACTORY = "factory-sign-in";
    String REACHED_BY = "reached-by";
    String INTERFACE = "interface";

    /** What stands for nobody and nothing, as in "change in progress: none". */
    Set<String> NONE = Set.of("", "none", "no", "off", "closed", "disabled");

    /** Ways to a device that do not hang on a wire. */
    Set<String> WIRELESS = Set.of("wireless", "radio", "air", "mobile", "satellite");

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
                case LICENCE, SUPPORT -> addEnd(fact, today, found);
                case CHANGE -> {
                    if (!NONE.contains(fact.value())) {
                        found.add(new InProgress(fact.name(), fact.value()));
                    }
                }
                case FACTORY -> {
                    if (!NONE.contains(fact.value())) {
                        found.add(new FactorySignIn(fact.name()));
                    }
                }
                case REACHED_BY -> {
                    if (WIRELESS.contains(fact.value())) {
                        found.add(new ReachedBy(fact.name(), fact.value()));
                    } else if (carries(reading, fact.value())) {
                        found.add(new OverItsOwnLink(fact.name(), fact.value()));
                    }
                }
                default -> {}
            }
        }
        return List.copyOf(found);
    }

    /** What a reading says of licences and support that end within {@link #SOON_DAYS}. */
    static List<Ends> rights(Reading reading, Instant now) {
        return of(reading, now).stream()
                .filter(Ends.class::isInstance)
                .map(Ends.class::cast)
                .toList();
    }

    private static Ailment outOfStep(PartShown shown) {
        return new OutOfStep(shown.part().kind(), shown.name(), shown.state());
    }

    private static boolean carries(Reading reading, String link) {
        return reading.facts().stream()
                .anyMatch(fact -> fact.kind().equals(INTERFACE) && fact.name().equals(link));
    }

    /** One that is no date is compared before and after, and not understood here. */
    private static void addEnd(Fact fact, LocalDate today, List<Ailment> found) {
        try {
            LocalDate on = LocalDate.parse(fact.value());
            if (on.isBefore(today.plusDays(SOON_DAYS))) {
                found.add(new Ends(fact.kind(), fact.name(), on, on.isBefore(today)));
            }
        } catch (DateTimeParseException noDate) {
            // Valid for good, or told in words.
        }
    }
}
