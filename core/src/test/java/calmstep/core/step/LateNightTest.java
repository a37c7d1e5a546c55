package calmstep.core.step;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Hardware;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Variant;
import calmstep.core.path.Hop;
import calmstep.core.step.UnitPlan.HopPlan;
import calmstep.core.window.Limits;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/**
 * Nights in which everything takes another time than planned, some of it far longer, and some units
 * get stuck: whatever happens, no rule is broken by whoever is late. What is checked is looked up
 * from the log of the night, not from the rules' own code.
 */
class LateNightTest {
    private static final Instant BEGINS = Instant.parse("2026-11-24T01:15:00Z");
    private static final Duration PART = Duration.ofMinutes(12);

    /**
     * Somebody was in work from one second of the night to another; to the end where it got stuck.
     */
    private record Stretch(int unit, int part, int from, int until) {
        boolean overlaps(Stretch other) {
            return from < other.until && other.from < until;
        }
    }

    private static final class Night {
        final Random random;
        final int count;
        final List<Neighbours> beside = new ArrayList<>();
        final List<List<Turn>> turns = new ArrayList<>();
        final List<UnitPlan> plans = new ArrayList<>();
        final List<List<StepRecord>> rows = new ArrayList<>();
        final int[] begun;
        final int[] inWorkSince;
        final int[] busyUntil;
        final Set<Integer> stuck = new HashSet<>();
        final Set<Integer> held = new HashSet<>();
        final Limits limits;
        final List<Stretch> worked = new ArrayList<>();

        Night(long seed) {
            random = new Random(seed);
            count = 3 + random.nextInt(10);
            begun = new int[count];
            inWorkSince = IntStream.range(0, count).map(_ -> -1).toArray();
            busyUntil = new int[count];
            limits =
                    new Limits(
                            1 + random.nextInt(4),
                            1 + random.nextInt(3),
                            1 + random.nextInt(4),
                            Map.of(),
                            0,
                            Duration.ZERO);
            for (int unit = 0; unit < count; unit++) {
                Set<String> apart = new HashSet<>();
                for (int other = 0; other < unit; other++) {
                    if (random.nextInt(5) == 0) {
                        apart.add("u" + other);
                    }
                }
                beside.add(
                        new Neighbours(
                                "u" + unit,
                                "s" + random.nextInt(3),
                                "f" + random.nextInt(2),
                                apart));
                int parts = 1 + random.nextInt(2);
                plans.add(plan(unit, parts));
                rows.add(new ArrayList<>(UnitMachine.start(plans.get(unit))));
                Instant first = BEGINS.plusSeconds(60L * random.nextInt(120));
                Instant closes = BEGINS.plus(Duration.ofMinutes(195));
                turns.add(
                        IntStream.rangeClosed(1, parts)
                                .mapToObj(
                                        part ->
                                                new Turn(
                                                        part,
                                                        part,
                                                        first.plus(PART.multipliedBy(part - 1)),
                                                        closes,
                                                        PART))
                                .toList());
            }
        }

        private static UnitPlan plan(int unit, int parts) {
            List<HopPlan> hops = new ArrayList<>();
            for (int ordinal = 1; ordinal <= parts; ordinal++) {
                FirmwareImage image =
                        new FirmwareImage(
                                "v%s.img".formatted(ordinal),
                                100,
                                "c".repeat(64),
                                Purpose.UPGRADE,
                                Variant.ANY);
                Hop hop =
                        new Hop(
                                "system",
                                String.valueOf(ordinal - 1),
                                String.valueOf(ordinal),
                                List.of(image),
                                List.of(),
                                List.of(),
                                1,
                                Duration.ofMinutes(4),
                                Effect.Configuration.KEPT,
                                true,
                                List.of(),
                                List.of());
                hops.add(new HopPlan(ordinal, hop, UnitPlan.stepsOf(hop, ordinal == parts)));
            }
            return new UnitPlan(
                    "u" + unit,
                    "site",
                    "192.0.2.1",
                    Optional.of(BEGINS),
                    "S",
                    Hardware.UNKNOWN,
                    "",
                    false,
                    "",
                    Duration.ofMinutes(20),
                    10,
                    UnitPlan.Supply.SHELF,
                    Set.of(),
                    Set.of(),
                    Set.of(),
                    hops);
        }

        /** Every fifth second everybody does what may be done. */
        void play() {
            for (int second = -1800; second < 6 * 3600; second += 5) {
                for (int unit = 0; unit < count; unit++) {
                    if (!stuck.contains(unit) && second >= busyUntil[unit]) {
                        step(unit, second);
                    }
                }
            }
            for (int unit : stuck) {
                if (inWorkSince[unit] >= -1800 && inWorkSince[unit] != -1) {
                    worked.add(
                            new Stretch(
                                    unit, begun[unit] - 1, inWorkSince[unit], Integer.MAX_VALUE));
                }
            }
        }

        private void step(int unit, int second) {
            Instant now = BEGINS.plusSeconds(second);
            switch (UnitMachine.next(
                    plans.get(unit),
                    rows.get(unit),
                    new UnitMachine.Leave(true, turns.get(unit), begun[unit]),
                    now)) {
                case Next.Begin(StepRecord record, int turn) -> {
                    List<Neighbours> inWork =
                            IntStream.range(0, count)
                                    .filter(other -> inWorkSince[other] != -1)
                                    .mapToObj(beside::get)
                                    .toList();
                    if (beside.get(unit).whyNotNow(inWork, limits).isEmpty()) {
                        begun[unit] = turn + 1;
                        inWorkSince[unit] = second;
                        end(unit, record, second);
                    }
                }
                case Next.Carry(StepRecord record) -> end(unit, record, second);
                case Next.Missed _ -> held.add(unit);
                case Next.NotYet(Turn turn) -> assertThat(now).isBefore(turn.begins());
                case Next.Settled() -> {}
                case Next.AtGate _, Next.Stuck _, Next.Doubtful _ ->
                        throw new AssertionError("nothing failed or is odd, and the gate is open");
            }
        }

        /**
         * The step is done, and the next one may be looked at after a time by chance; once in a
         * while the unit gets stuck in it.
         */
        private void end(int unit, StepRecord record, int second) {
            busyUntil[unit] =
                    second
                            + (record.name() == StepName.COME_BACK
                                    ? 60 + random.nextInt(1200)
                                    : 1 + random.nextInt(40));
            if (random.nextInt(60) == 0) {
                stuck.add(unit);
                return;
            }
            List<StepRecord> own = rows.get(unit);
            own.set(own.indexOf(record), record.with(StepState.DONE));
            if (record.name() == StepName.PROVE && inWorkSince[unit] != -1) {
                worked.add(new Stretch(unit, begun[unit] - 1, inWorkSince[unit], second));
                inWorkSince[unit] = -1;
            }
        }
    }

    @Test
    void whoeverIsLateBreaksNoRule() {
        int late = 0;
        int held = 0;
        for (int seed = 0; seed < 400; seed++) {
            Night night = new Night(seed);
            night.play();
            for (Stretch one : night.worked) {
                Turn turn = night.turns.get(one.unit()).get(one.part());
                assertThat(BEGINS.plusSeconds(one.from()))
                        .as("seed %s: not before its turn", seed)
                        .isAfterOrEqualTo(turn.begins());
                assertThat(BEGINS.plusSeconds(one.from()).plus(turn.needs()))
                        .as("seed %s: it would have ended in its window", seed)
                        .isBeforeOrEqualTo(turn.closes());
                late +=
                        one.from() > Duration.between(BEGINS, turn.begins()).toSeconds() + 60
                                ? 1
                                : 0;
                for (Stretch other : night.worked) {
                    if (!one.equals(other) && one.overlaps(other)) {
                        Neighbours mine = night.beside.get(one.unit());
                        Neighbours theirs = night.beside.get(other.unit());
                        assertThat(mine.notWith())
                                .as("seed %s", seed)
                                .doesNotContain(theirs.unit());
                    }
                }
            }
            atOnce(night, seed);
            held += night.held.size();
        }
        assertThat(late).as("nights were late indeed").isGreaterThan(200);
        assertThat(held).as("some windows closed before their turn").isPositive();
    }

    /**
     * At each moment in which somebody begins: how many there are, over all, at its site, of its
     * family.
     */
    private static void atOnce(Night night, int seed) {
        for (Stretch begins :
                night.worked.stream().sorted(Comparator.comparing(Stretch::from)).toList()) {
            List<Neighbours> there =
                    night.worked.stream()
                            .filter(s -> s.from() <= begins.from() && begins.from() < s.until())
                            .map(s -> night.beside.get(s.unit()))
                            .toList();
            Neighbours own = night.beside.get(begins.unit());
            assertThat(there.size())
                    .as("seed %s: over all", seed)
                    .isLessThanOrEqualTo(night.limits.atOnce());
            assertThat(there.stream().filter(n -> n.site().equals(own.site())).count())
                    .as("seed %s: at %s", seed, own.site())
                    .isLessThanOrEqualTo(night.limits.perSite());
            assertThat(there.stream().filter(n -> n.family().equals(own.family())).count())
                    .as("seed %s: of %s", seed, own.family())
                    .isLessThanOrEqualTo(night.limits.perFamily());
        }
    }
}
