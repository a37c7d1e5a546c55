package calmstep.core.step;

import calmstep.core.step.UnitPlan.HopPlan;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Stream;

/** The state machine of a unit. Pure: records in, records out. */
public final class UnitMachine {
    /**
     * A damaged copy is fetched once more from scratch; a second damaged copy is a person's matter.
     */
    private static final int COPIES_TRIED = 2;

    private static final List<StepName> RESCUE =
            List.of(
                    StepName.RESCUE,
                    StepName.MAKE_ROOM,
                    StepName.STAGE,
                    StepName.CONFIRM_IMAGE,
                    StepName.CHOOSE_BOOT,
                    StepName.RESTART,
                    StepName.COME_BACK);

    private static final List<StepName> RETURN =
            List.of(
                    StepName.RETURN,
                    StepName.MAKE_ROOM,
                    StepName.STAGE,
                    StepName.CONFIRM_IMAGE,
                    StepName.QUIET,
                    StepName.CHOOSE_BOOT,
                    StepName.RESTART,
                    StepName.COME_BACK,
                    StepName.PUT_BACK,
                    StepName.PROVE,
                    StepName.UN_QUIET);

    private UnitMachine() {}

    /** All steps of a plan, due. */
    public static List<StepRecord> start(UnitPlan plan) {
        List<StepRecord> records = new ArrayList<>();
        for (HopPlan hop : plan.hops()) {
            hop.steps()
                    .forEach(
                            name ->
                                    records.add(
                                            new StepRecord(hop.ordinal(), name, StepState.DUE, 0)));
        }
        return List.copyOf(records);
    }

    /**
     * What people and the plan allow.
     *
     * @param gateOpen whether a person said go
     * @param turns of the parts of its path; empty where the plan has no nights: then it may begin
     *     at once
     * @param begun how many of them have begun
     * @param doubtful whether its proof showed something odd that nobody has judged yet
     */
    public record Leave(boolean gateOpen, List<Turn> turns, int begun, boolean doubtful) {
        public Leave {
            turns = List.copyOf(turns);
        }

        /** With nothing odd to judge. */
        public Leave(boolean gateOpen, List<Turn> turns, int begun) {
            this(gateOpen, turns, begun, false);
        }
    }

    /**
     * The next thing to do. The gate stands before the first change of a boot choice (and before
     * alarms are quieted for it), not only before the restart: behind it, even a power cut would
     * start the new image. So does each turn: up to there nobody is disturbed, and what has begun
     * is ended. What is odd about it is judged before its old images are removed.
     *
     * @param now our clock
     */
    public static Next next(UnitPlan plan, List<StepRecord> records, Leave leave, Instant now) {
        for (StepRecord record : records) {
            if (record.state() == StepState.FAILED) {
                return new Next.Stuck(record);
            }
            if (!record.state().isFinished()) {
                return unfinished(plan, record, leave, now);
            }
        }
        return new Next.Settled();
    }

    private static Next unfinished(UnitPlan plan, StepRecord record, Leave leave, Instant now) {
        if (record.detour() == 0 && interrupts(record.name())) {
            return leave.gateOpen()
                    ? onTurn(record, leave, now)
                    : new Next.AtGate(record, question(plan, hopsAhead(plan, leave)));
        }
        return record.name() == StepName.TIDY && leave.doubtful()
                ? new Next.Doubtful(record)
                : new Next.Carry(record);
    }

    /** Whichever of them comes first is the first that disturbs anybody. */
    private static boolean interrupts(StepName name) {
        return name == StepName.QUIET || name == StepName.CHOOSE_BOOT;
    }

    private static Next onTurn(StepRecord record, Leave leave, Instant now) {
        if (leave.begun() >= leave.turns().size()
                || leave.turns().get(leave.begun()).firstHop() != record.hop()) {
            return new Next.Carry(record);
        }
        Turn turn = leave.turns().get(leave.begun());
        return now.isBefore(turn.begins())
                ? new Next.NotYet(turn)
                : turn.fitsFrom(now)
                        ? new Next.Begin(record, leave.begun())
                        : new Next.Missed(turn);
    }

    /**
     * What a word at the gate is for: the parts that are done in the same window; without turns,
     * the whole path.
     */
    private static List<HopPlan> hopsAhead(UnitPlan plan, Leave leave) {
        if (leave.begun() >= leave.turns().size()) {
            return plan.hops();
        }
        Turn turn = leave.turns().get(leave.begun());
        int last =
                leave.turns().stream()
                        .filter(other -> other.closes().equals(turn.closes()))
                        .mapToInt(Turn::lastHop)
                        .max()
                        .orElse(turn.lastHop());
        return plan.hops().stream()
                .filter(hop -> hop.ordinal() >= turn.firstHop() && hop.ordinal() <= last)
                .toList();
    }

    private static String question(UnitPlan plan, List<HopPlan> hops) {
        boolean serves = hops.stream().allMatch(HopPlan::rolls);
        String behind =
                serves ? "Behind it, on one member less at a time" : "Without network meanwhile";
        return "%s %s, from %s to %s. %s Its images are staged and proven, its configuration is backed up."
                .formatted(
                        plan.device(),
                        serves
                                ? "restarts member by member and goes on serving, but for the"
                                        + " moment of a hand-over"
                                : interruption(hops),
                        UnitPlan.from(hops),
                        hops.getLast().hop().step(),
                        plan.serves().isEmpty()
                                ? "Nobody wrote down who stands behind it."
                                : "%s: %s.".formatted(behind, plan.serves()));
    }

    private static String interruption(List<HopPlan> hops) {
        int count = hops.stream().mapToInt(h -> h.hop().restarts()).sum();
        String restarts =
                switch (count) {
                    case 0 ->
                            "goes on, its %s restarts".formatted(hops.getFirst().hop().component());
                    case 1 -> "restarts once";
                    default -> "restarts %d times".formatted(count);
                };
        return "%s and is dark for about %d min in all"
                .formatted(restarts, Math.max(1, UnitPlan.dark(hops).toMinutes()));
    }

    /**
     * The records after a step failed: trouble that may pass is tried again a few times, the first
     * damaged copy sends the unit back to staging, everything else stops it.
     *
     * @param giveUpAfter how long the device may be away
     */
    public static List<StepRecord> afterFailure(
            List<StepRecord> records, StepRecord failed, Hope hope, Duration giveUpAfter) {
        boolean copyAgain = isCopiedAgain(failed, records);
        boolean again = failed.attempts() < hope.tries(giveUpAfter);
        return records.stream()
                .map(
                        record -> {
                            boolean isFailed = record.isSame(failed);
                            boolean isCopy =
                                    record.isBeside(failed) && record.name() == StepName.STAGE;
                            if ((copyAgain && (isFailed || isCopy)) || (isFailed && again)) {
                                return record.with(StepState.DUE);
                            }
                            return isFailed ? record.with(StepState.FAILED) : record;
                        })
                .toList();
    }

    private static boolean isCopiedAgain(StepRecord failed, List<StepRecord> records) {
        boolean copyAgain =
                failed.name() == StepName.CONFIRM_IMAGE
                        && records.stream()
                                .anyMatch(
                                        r ->
                                                r.isBeside(failed)
                                                        && r.name() == StepName.STAGE
                                                        && r.attempts() < COPIES_TRIED);
        return copyAgain;
    }

    /**
     * The records after a person's word that a device is rescued which did not come back: the wait
     * for it is given up, and behind it the device is started from memory, its image is proven and
     * chosen anew, and it has to start by itself.
     *
     * @return empty where no device is waited for in vain
     */
    public static Optional<List<StepRecord>> rescued(List<StepRecord> records) {
        return stuck(records)
                .filter(record -> record.name() == StepName.COME_BACK)
                .map(stuck -> detour(records, stuck, RESCUE, _ -> false));
    }

    /**
     * The records after a person's word that a unit goes back to what it ran before the hop at
     * which it is stuck: what was planned behind it is left out.
     *
     * @param putsBack whether a configuration can be written into it
     * @return empty where it is not stuck behind a boot choice, or is on its way back already
     */
    public static Optional<List<StepRecord>> returned(List<StepRecord> records, boolean putsBack) {
        return stuck(records)
                .filter(stuck -> mayReturn(stuck, records))
                .map(
                        stuck ->
                                detour(
                                        records,
                                        stuck,
                                        RETURN.stream()
                                                .filter(
                                                        name ->
                                                                putsBack
                                                                        || name
                                                                                != StepName
                                                                                        .PUT_BACK)
                                                .toList(),
                                        _ -> true));
    }

    private static boolean mayReturn(StepRecord stuck, List<StepRecord> records) {
        return !isBackwards(records, stuck)
                && records.stream()
                        .anyMatch(
                                record ->
                                        record.hop() == stuck.hop()
                                                && record.name() == StepName.CHOOSE_BOOT
                                                && record.state() == StepState.DONE);
    }

    /**
     * The records after a person's word that another box stands where a unit is stuck: it is met,
     * brought to the release of the hop, given the configuration of the one that it replaces and
     * proven, as the hop does it anyway. What comes behind the hop's proof goes on as planned.
     *
     * @param hop the one at which it is stuck
     * @param putsBack whether a configuration can be written into it
     * @return empty where it is not stuck, is on its way back, or nothing was backed up in this run
     *     yet that could be put into another box
     */
    public static Optional<List<StepRecord>> replaced(
            List<StepRecord> records, HopPlan hop, boolean putsBack) {
        List<StepName> steps =
                Stream.of(StepName.values())
                        .filter(
                                name ->
                                        name == StepName.REPLACE
                                                || (name == StepName.PUT_BACK && putsBack)
                                                || (isBetweenRoomAndProof(name)
                                                        && name != StepName.PUT_BACK
                                                        && hop.steps().contains(name)))
                        .toList();
        return stuck(records)
                .filter(
                        stuck ->
                                stuck.hop() == hop.ordinal()
                                        && !isBackwards(records, stuck)
                                        && records.stream()
                                                .anyMatch(
                                                        record ->
                                                                record.hop() <= stuck.hop()
                                                                        && record.name()
                                                                                == StepName.BACK_UP
                                                                        && record.state()
                                                                                .isFinished()
                                                                        && record.state()
                                                                                != StepState
                                                                                        .SKIPPED))
                .map(
                        stuck ->
                                detour(
                                        records,
                                        stuck,
                                        steps,
                                        record ->
                                                record.hop() == stuck.hop()
                                                        && record.name()
                                                                        .compareTo(
                                                                                StepName.UN_QUIET)
                                                                <= 0));
    }

    /** What dependents hold already is theirs, whatever stands before them. */
    private static boolean isBetweenRoomAndProof(StepName name) {
        return name.compareTo(StepName.MAKE_ROOM) >= 0
                && name.compareTo(StepName.UN_QUIET) <= 0
                && name != StepName.PRE_LOAD;
    }

    /** Whether a step takes the device back over its hop. */
    public static boolean isBackwards(List<StepRecord> records, StepRecord step) {
        return records.stream()
                        .takeWhile(record -> !record.isSame(step))
                        .anyMatch(
                                record ->
                                        record.hop() == step.hop()
                                                && record.name() == StepName.RETURN)
                || step.name() == StepName.RETURN;
    }

    private static Optional<StepRecord> stuck(List<StepRecord> records) {
        return records.stream().filter(record -> record.state() == StepState.FAILED).findFirst();
    }

    private static List<StepRecord> detour(
            List<StepRecord> records,
            StepRecord stuck,
            List<StepName> steps,
            Predicate<StepRecord> leavesOut) {
        int detour = records.stream().mapToInt(StepRecord::detour).max().orElse(0) + 1;
        List<StepRecord> after = new ArrayList<>();
        for (StepRecord record : records) {
            boolean leftOut =
                    record.equals(stuck)
                            || (!record.state().isFinished() && leavesOut.test(record));
            after.add(leftOut ? record.with(StepState.SKIPPED) : record);
            addDetour(record, stuck, steps, after, detour);
        }
        return List.copyOf(after);
    }

    private static void addDetour(
            StepRecord record,
            StepRecord stuck,
            List<StepName> steps,
            List<StepRecord> after,
            int detour) {
        if (record.equals(stuck)) {
            steps.forEach(
                    name -> after.add(new StepRecord(stuck.hop(), detour, name, StepState.DUE, 0)));
        }
    }

    public static UnitState stateOf(List<StepRecord> records) {
        boolean changing = false;
        boolean begun = false;
        for (StepRecord record : records) {
            if (record.state() == StepState.FAILED) {
                return UnitState.STUCK;
            }
            if (!record.state().isFinished()) {
                return stateAt(record, changing, begun || record.state() != StepState.DUE);
            }
            begun = true;
            changing |= record.name() == StepName.CHOOSE_BOOT;
        }
        return records.stream().anyMatch(record -> record.name() == StepName.RETURN)
                ? UnitState.RETURNED
                : UnitState.SETTLED;
    }

    private static UnitState stateAt(StepRecord record, boolean changing, boolean begun) {
        if (!begun) {
            return UnitState.WAITING;
        }
        return switch (record.name()) {
            case CHECK, BACK_UP, MAKE_ROOM, STAGE, CONFIRM_IMAGE, PRE_LOAD ->
                    changing ? UnitState.CHANGING : UnitState.PREPARING;
            case QUIET, CHOOSE_BOOT -> changing ? UnitState.CHANGING : UnitState.STAGED;
            case RETURN, RESCUE, REPLACE, RESTART, COME_BACK, SECOND_RESTART, COME_BACK_AGAIN ->
                    UnitState.CHANGING;
            case PUT_BACK, PROVE, UN_QUIET -> UnitState.PROVING;
            case SOAK, TIDY -> UnitState.SOAKING;
        };
    }
}
