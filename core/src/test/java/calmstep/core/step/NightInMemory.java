package calmstep.core.step;

import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Hardware;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Variant;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.fleet.Reading;
import calmstep.core.path.Hop;
import calmstep.core.step.UnitPlan.HopPlan;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;

/**
 * Plays a plan to its end, as the service does; after each number of journal writes in {@code
 * crashes} the driver is gone and another looks at the rows.
 */
final class NightInMemory {
    static final Instant START = Instant.parse("2026-11-23T02:00:00Z");
    static final UnitMachine.Leave AT_ONCE = new UnitMachine.Leave(true, List.of(), 0);
    static final String DIGEST = "c".repeat(64);

    /** It is asked for at every step of thousands of nights. */
    private static final UnitPlan PLAN = made(false);

    static FirmwareImage image(int release) {
        return new FirmwareImage(
                "v%s.img".formatted(release), 100, DIGEST, Purpose.UPGRADE, Variant.ANY);
    }

    static UnitPlan plan() {
        return PLAN;
    }

    /** The same with room for both images before the gate. */
    static UnitPlan planAhead() {
        return made(true);
    }

    private static UnitPlan made(boolean ahead) {
        List<HopPlan> hops = new ArrayList<>();
        for (int ordinal = 1; ordinal <= 2; ordinal++) {
            Hop hop =
                    new Hop(
                            "system",
                            String.valueOf(ordinal - 1),
                            String.valueOf(ordinal),
                            List.of(image(ordinal)),
                            List.of(),
                            List.of(),
                            1,
                            Duration.ofMinutes(4),
                            Effect.Configuration.KEPT,
                            true,
                            List.of(),
                            List.of());
            hops.add(
                    new HopPlan(
                            ordinal,
                            hop,
                            UnitPlan.stepsOf(hop, ordinal == 2),
                            0,
                            240,
                            240,
                            ahead && ordinal == 2,
                            0L));
        }
        return new UnitPlan(
                "rt",
                "site",
                "192.0.2.1",
                Optional.of(START),
                "S1",
                Hardware.UNKNOWN,
                Digests.sha256("settings"),
                false,
                "the quay",
                Duration.ofMinutes(20),
                10,
                UnitPlan.Supply.SHELF,
                Set.of("v0.img", "v1.img", "v2.img"),
                Set.of(),
                Set.of(),
                hops);
    }

    final DeviceInMemory device = new DeviceInMemory(DIGEST);
    final List<StepRecord> rows = new ArrayList<>(UnitMachine.start(plan()));
    final java.util.Map<Integer, Intent> intents = new java.util.HashMap<>();
    final List<String> told = new ArrayList<>();
    final List<Reading> checks = new ArrayList<>();
    Instant now = START;
    int writesUntilCrash = Integer.MAX_VALUE;
    Around around = Around.NOTHING;
    BooleanSupplier doubtful = () -> false;
    Optional<String> serial = Optional.empty();

    /** What somebody does to the device right before its image is chosen. */
    Runnable beforeChoice = () -> {};

    /** Whether a person took its configuration over. */
    boolean takesOver;

    static final class Crash extends RuntimeException {}

    UnitState play(int rounds) {
        for (int round = 0; round < rounds; round++) {
            now = now.plusSeconds(1);
            device.now = now;
            switch (UnitMachine.next(
                    plan(),
                    rows,
                    new UnitMachine.Leave(true, List.of(), 0, doubtful.getAsBoolean()),
                    START)) {
                case Next.Carry(StepRecord record) -> carry(record);
                case Next.Settled() -> {
                    return UnitMachine.stateOf(rows);
                }
                case Next.Stuck _ -> {
                    return UnitState.STUCK;
                }
                case Next.AtGate _ -> throw new AssertionError("the gate is open");
                case Next.Doubtful _ -> {
                    return UnitMachine.stateOf(rows);
                }
                case Next.Begin _, Next.NotYet _, Next.Missed _ ->
                        throw new AssertionError("it has no turns");
            }
        }
        throw new AssertionError("not over after %s rounds: %s".formatted(rounds, told));
    }

    void rows(List<StepRecord> others) {
        rows.clear();
        rows.addAll(others);
    }

    /** Some steps, with crashes among them. */
    void crash(List<Integer> crashes) {
        for (int writes : crashes) {
            writesUntilCrash = writes;
            for (int round = 0;
                    round < 8
                            && UnitMachine.next(plan(), rows, AT_ONCE, START)
                                    instanceof Next.Carry(StepRecord record);
                    round++) {
                now = now.plusSeconds(1);
                device.now = now;
                carry(record);
            }
        }
        writesUntilCrash = Integer.MAX_VALUE;
    }

    private void carry(StepRecord record) {
        if (record.name() == StepName.CHOOSE_BOOT) {
            beforeChoice.run();
        }
        int index = rows.indexOf(record);
        int hop = record.hop();
        int restart = index(hop, StepName.RESTART);
        Optional<FirmwareImage> loads =
                Optional.of(record)
                        .filter(one -> one.name() == StepName.RESCUE)
                        .map(_ -> plan().hop(hop).hop().image());
        // What the hop's check saw: the device ran what it ran before.
        Optional<Reading> before =
                record.name() == StepName.CHECK
                        ? Optional.empty()
                        : checks.stream().reduce((_, last) -> last);
        UnitPlan.HopPlan hopPlan =
                Detour.isBackwards(rows, record)
                        ? plan().hop(hop).back(List.of(image(hop - 1)))
                        : plan().hop(hop);
        Scene scene =
                new Scene(
                        takesOver ? plan().withAnyConfiguration() : plan().replacedBy(serial),
                        hopPlan,
                        record.detour(),
                        device,
                        Optional.empty(),
                        device.backups,
                        new ShelfInMind(),
                        Optional.ofNullable(intents.get(index)),
                        Optional.ofNullable(intents.get(restart)),
                        Scene.Drained.NO,
                        before,
                        checks.stream().findFirst(),
                        loads,
                        now,
                        1,
                        around,
                        (one, other) -> ConfigurationComparison.of(one, other, List.of()));
        try {
            StepOutcome outcome =
                    new StepRunner(Clock.fixed(now, ZoneOffset.UTC))
                            .carry(record.name(), scene, journal(index));
            write();
            finish(index, outcome);
        } catch (Crash gone) {
            writesUntilCrash = Integer.MAX_VALUE;
        }
    }

    private int index(int hop, StepName name) {
        for (int i = rows.size() - 1; i >= 0; i--) {
            if (rows.get(i).hop() == hop && rows.get(i).name() == name) {
                return i;
            }
        }
        throw new AssertionError(name);
    }

    private void finish(int index, StepOutcome outcome) {
        StepRecord row = rows.get(index);
        told.add(row.hop() + " " + row.name() + " " + outcome);
        switch (outcome) {
            case StepOutcome.Done(String _, String _, Evidence evidence) -> {
                rows.set(index, row.with(StepState.DONE));
                evidence.reading().filter(_ -> row.name() == StepName.CHECK).ifPresent(checks::add);
            }
            case StepOutcome.NotNeeded _ -> rows.set(index, row.with(StepState.NOT_NEEDED));
            case StepOutcome.Waiting _ -> rows.set(index, row.with(StepState.LOOKING));
            case StepOutcome.Failed(var _, Hope hope) -> {
                List<StepRecord> after =
                        UnitMachine.afterFailure(rows, row, hope, plan().giveUpAfter());
                rows.clear();
                rows.addAll(after);
            }
        }
    }

    private void write() {
        if (--writesUntilCrash < 0) {
            throw new Crash();
        }
    }

    private Journal journal(int index) {
        return new Journal() {
            @Override
            public void looking() {
                write();
                StepRecord row = rows.get(index);
                rows.set(
                        index,
                        new StepRecord(
                                row.hop(),
                                row.detour(),
                                row.name(),
                                StepState.LOOKING,
                                row.state() == StepState.LOOKING
                                        ? row.attempts()
                                        : row.attempts() + 1));
            }

            @Override
            public void acting(Intent intent, String expected, String seen) {
                write();
                rows.set(index, rows.get(index).with(StepState.ACTING));
                intents.put(index, intent);
            }

            @Override
            public void proving() {
                write();
                rows.set(index, rows.get(index).with(StepState.PROVING));
            }
        };
    }
}
