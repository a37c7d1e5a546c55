package calmstep.service.records;

import calmstep.core.compare.Change;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.compare.ReadingComparison;
import calmstep.core.fleet.Reading;
import calmstep.core.order.Outage;
import calmstep.core.step.StepName;
import calmstep.core.step.Turn;
import calmstep.service.events.Event;
import calmstep.service.events.Events;
import calmstep.service.plans.PlanView;
import calmstep.service.plans.PlanView.FindingView;
import calmstep.service.plans.PlanView.PlannedUnit;
import calmstep.service.records.RunRecord.UnitRecord;
import calmstep.service.runs.RunView;
import calmstep.service.runs.RunView.StepView;
import calmstep.service.runs.RunView.UnitInRun;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * What a change board reads of a record first. Worked out from the record alone, so that it says
 * the same wherever it is read.
 *
 * @param zone whose clock all times are told by: the one of all its sites, or UTC
 * @param nobodyAsked whether its plan asked nobody at its gates
 */
public record Account(
        String run,
        String state,
        @Nullable String endedBy,
        @Nullable String endedWhy,
        String zone,
        boolean nobodyAsked,
        Counts counts,
        List<Line> units,
        List<Oddity> exceptions) {

    /**
     * How many of its units came to what.
     *
     * @param accepted where something odd was accepted by a person
     * @param harmless of which a later reading shows that nothing was lost
     * @param unread of which nobody saw afterwards how they stand
     */
    public record Counts(
            int units,
            int settled,
            int returned,
            int setAside,
            int open,
            int accepted,
            int harmless,
            int unread) {}

    /**
     * A unit.
     *
     * @param plannedDark how long it was planned to be dark, in seconds
     * @param seenDark how long it did not answer behind an order to restart, in seconds of the
     *     devices' clocks; null where it was not restarted, or where its members restarted one
     *     after the other and somebody served all the time
     * @param windows when its parts might be done
     * @param readAt when it was read last; null where nobody read it afterwards
     * @param readBefore whether it was read before anything was done to it
     * @param lost what is not as it was before, each thing once
     */
    public record Line(
            String device,
            String siteTitle,
            String before,
            String wanted,
            @Nullable String after,
            String state,
            long plannedDark,
            @Nullable Long seenDark,
            @Nullable Instant begun,
            @Nullable Instant ended,
            List<Turn> windows,
            @Nullable Instant readAt,
            boolean readBefore,
            List<String> lost) {

        private static final String NOTHING_LOST = "nothing lost";

        /** In words, from what was read afterwards alone. */
        public String standing() {
            if (readAt == null) {
                return "not read afterwards";
            }
            if (!readBefore) {
                return "read afterwards, but not before: nobody can compare";
            }
            return lost.isEmpty() ? NOTHING_LOST : String.join("; ", lost);
        }

        /** Whether its parts were to begin where its site may be disturbed. */
        public String inWindows() {
            if (windows.isEmpty()) {
                return "none planned";
            }
            return windows.stream().allMatch(turn -> turn.outside().isEmpty())
                    ? "inside"
                    : "outside";
        }

        /** Planned against seen. */
        public String dark() {
            String planned = Outage.words(Duration.ofSeconds(plannedDark));
            return seenDark == null
                    ? planned + " planned"
                    : "%s planned, %s seen"
                            .formatted(planned, Outage.words(Duration.ofSeconds(seenDark)));
        }
    }

    /**
     * What did not go as it should, or was not as it should be, and who bore it.
     *
     * @param device empty for what concerns the whole run
     * @param by null where nobody decided it
     */
    public record Oddity(
            String device,
            String what,
            @Nullable String by,
            @Nullable Instant at,
            @Nullable String why) {}

    private static final Set<String> ORDERS = Set.of("restart", "second-restart");
    private static final Set<String> BACK = Set.of("come-back", "come-back-again");
    private static final Set<String> OVER = Set.of("settled", "returned", "set-aside");

    static Account of(RunRecord record) {
        RunView run = record.outcome();
        Map<String, UnitRecord> kept =
                record.units().stream()
                        .collect(Collectors.toMap(UnitRecord::device, Function.identity()));
        Map<String, PlannedUnit> planned =
                record.plan().units().stream()
                        .collect(
                                Collectors.toMap(
                                        PlannedUnit::device, Function.identity(), (a, _) -> a));
        List<Line> lines =
                run.units().stream()
                        .map(
                                unit ->
                                        line(
                                                unit,
                                                Objects.requireNonNull(kept.get(unit.device())),
                                                Optional.ofNullable(planned.get(unit.device())),
                                                run.pace()))
                        .toList();
        Optional<Event> end = endOf(record);
        return new Account(
                run.name(),
                run.state(),
                end.map(Event::who).orElse(null),
                end.map(Event::text).orElse(null),
                zone(run),
                asksNobody(record.plan()),
                counts(run, lines),
                lines,
                exceptions(record, lines));
    }

    /** The word of whoever ended it before its time. */
    private static Optional<Event> endOf(RunRecord record) {
        return record.outcome().state().equals("abandoned")
                ? record.events().stream()
                        .filter(event -> event.kind().equals("run") && isSaid(event))
                        .reduce((_, last) -> last)
                : Optional.empty();
    }

    private static boolean isSaid(Event event) {
        return !event.who().equals(Events.SERVICE);
    }

    private static String zone(RunView run) {
        List<String> zones =
                run.units().stream()
                        .map(UnitInRun::zone)
                        .filter(zone -> !zone.isEmpty())
                        .distinct()
                        .toList();
        return zones.size() == 1 ? zones.getFirst() : "UTC";
    }

    private static boolean asksNobody(PlanView plan) {
        return plan.findings().stream().anyMatch(found -> found.key().endsWith("/asks-nobody"));
    }

    private static Counts counts(RunView run, List<Line> lines) {
        return new Counts(
                lines.size(),
                count(lines, "settled"),
                count(lines, "returned"),
                count(lines, "set-aside"),
                (int) lines.stream().filter(line -> !OVER.contains(line.state())).count(),
                (int) run.units().stream().filter(Account::isAccepted).count(),
                (int)
                        lines.stream()
                                .filter(line -> line.standing().equals(Line.NOTHING_LOST))
                                .count(),
                (int) lines.stream().filter(line -> line.readAt() == null).count());
    }

    private static int count(List<Line> lines, String state) {
        return (int) lines.stream().filter(line -> line.state().equals(state)).count();
    }

    private static boolean isAccepted(UnitInRun unit) {
        return unit.doubt() != null && unit.doubt().by() != null && unit.state().equals("settled");
    }

    private static Line line(
            UnitInRun unit, UnitRecord kept, Optional<PlannedUnit> planned, int pace) {
        List<Instant> times =
                unit.steps().stream()
                        .flatMap(step -> Stream.of(step.startedAt(), step.finishedAt()))
                        .filter(Objects::nonNull)
                        .sorted()
                        .toList();
        Optional<Reading> after =
                Optional.ofNullable(kept.after())
                        .filter(read -> !read.takenAt().isBefore(lastDisturbed(unit)));
        return new Line(
                unit.device(),
                unit.siteTitle(),
                kept.before() == null ? unit.from() : kept.before().system(),
                unit.to(),
                after.map(Reading::system).orElse(null),
                unit.state(),
                unit.darkSeconds(),
                planned.filter(one -> one.order() != null).isPresent()
                        ? null
                        : seenDark(unit, pace),
                times.isEmpty() ? null : times.getFirst(),
                times.isEmpty() ? null : times.getLast(),
                kept.turns(),
                after.map(Reading::takenAt).orElse(null),
                kept.before() != null,
                after.map(read -> lost(unit, kept, read)).orElse(List.of()));
    }

    /** A reading that was taken before it does not show what became of the device. */
    private static Instant lastDisturbed(UnitInRun unit) {
        return unit.steps().stream()
                .filter(
                        step ->
                                StepName.parse(step.name()).disturbs()
                                        || BACK.contains(step.name()))
                .map(StepView::startedAt)
                .filter(Objects::nonNull)
                .max(Comparator.naturalOrder())
                .orElse(Instant.MIN);
    }

    private static @Nullable Long seenDark(UnitInRun unit, int pace) {
        Optional<Instant> ordered = Optional.empty();
        Duration dark = Duration.ZERO;
        for (StepView step : unit.steps()) {
            if (ORDERS.contains(step.name())) {
                ordered = Optional.ofNullable(step.startedAt());
            } else if (BACK.contains(step.name()) && step.finishedAt() != null) {
                Instant back = step.finishedAt();
                dark =
                        dark.plus(
                                ordered.map(at -> Duration.between(at, back))
                                        .orElse(Duration.ZERO));
                ordered = Optional.empty();
            }
        }
        return dark.isZero() ? null : dark.multipliedBy(pace).toSeconds();
    }

    /** Each thing once, however many hops and watches saw it. */
    private static List<String> lost(UnitInRun unit, UnitRecord kept, Reading after) {
        Stream<String> facts =
                kept.before() == null
                        ? Stream.empty()
                        : ReadingComparison.of(kept.before(), after).stream()
                                .filter(change -> change.weight() == Change.Weight.CAUTION)
                                .map(Change::sentence);
        Stream<String> lines =
                linesLost(unit).map("configuration line dropped or rewritten: %s"::formatted);
        return Stream.concat(facts, lines).distinct().toList();
    }

    /**
     * Each hop is compared with the backup before it, as often as it is proven or watched: its last
     * comparison counts, and what an earlier hop dropped and a later one shows again is not lost.
     */
    private static Stream<String> linesLost(UnitInRun unit) {
        Map<Integer, ConfigurationComparison> lastOfHop = new TreeMap<>();
        for (StepView step : unit.steps()) {
            if (step.configuration() != null) {
                lastOfHop.put(step.hop(), step.configuration());
            }
        }
        Set<String> lost = new LinkedHashSet<>();
        for (ConfigurationComparison hop : lastOfHop.values()) {
            hop.added().forEach(lost::remove);
            lost.addAll(hop.dropped());
        }
        return lost.stream();
    }

    private static List<Oddity> exceptions(RunRecord record, List<Line> lines) {
        List<Oddity> all = new ArrayList<>();
        record.plan().findings().stream()
                .filter(found -> found.answer() != null)
                .forEach(found -> all.add(acknowledged(found)));
        record.events().stream()
                .filter(event -> event.kind().equals("unit") && isSaid(event))
                .forEach(
                        event ->
                                all.add(
                                        new Oddity(
                                                event.subject(),
                                                event.text(),
                                                event.who(),
                                                event.at(),
                                                null)));
        record.outcome().units().forEach(unit -> unjudged(unit).ifPresent(all::add));
        Map<String, UnitInRun> units =
                record.outcome().units().stream()
                        .collect(Collectors.toMap(UnitInRun::device, Function.identity()));
        lines.stream()
                .filter(line -> !isBorne(line, Objects.requireNonNull(units.get(line.device()))))
                .map(
                        line ->
                                new Oddity(
                                        line.device(),
                                        "%s; %s".formatted(line.state(), line.standing()),
                                        null,
                                        null,
                                        null))
                .forEach(all::add);
        return all;
    }

    /** Whether it settled, and lost nothing but what somebody accepted. */
    private static boolean isBorne(Line line, UnitInRun unit) {
        List<String> accepted =
                isAccepted(unit) ? Objects.requireNonNull(unit.doubt()).odd() : List.of();
        return line.state().equals("settled") && accepted.containsAll(line.lost());
    }

    private static Oddity acknowledged(FindingView found) {
        PlanView.Answer answer = Objects.requireNonNull(found.answer());
        return new Oddity(
                found.device(),
                "%s (%s)"
                        .formatted(
                                found.fact(),
                                answer.choice().equals("accept") ? "accepted" : answer.choice()),
                answer.by(),
                answer.at(),
                answer.reason().isEmpty() ? null : answer.reason());
    }

    /** What somebody judged stands among the words that were said. */
    private static Optional<Oddity> unjudged(UnitInRun unit) {
        return Optional.ofNullable(unit.doubt())
                .filter(doubt -> doubt.by() == null)
                .map(
                        doubt ->
                                new Oddity(
                                        unit.device(),
                                        String.join("; ", doubt.odd()),
                                        null,
                                        null,
                                        null));
    }
}
