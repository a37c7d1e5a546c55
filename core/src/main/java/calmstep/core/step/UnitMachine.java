package calmstep.core.step;

import calmstep.core.step.UnitPlan.HopPlan;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/** The state machine of a unit. Pure: records in, records out. */
public final class UnitMachine {
    /**
     * A damaged copy is fetched once more from scratch; a second damaged copy is a person's matter.
     */
    private static final int COPIES_TRIED = 2;

    private UnitMachine() {}

    /**
     * All steps of a plan, due. Images for which there is room beside the first hop's are brought
     * with it: behind the gate, a copy that fails would leave the unit between two releases.
     */
    public static List<StepRecord> start(UnitPlan plan) {
        List<StepRecord> records = new ArrayList<>();
        for (HopPlan hop : plan.hops()) {
            boolean first = records.isEmpty();
            for (StepName name : hop.steps()) {
                if (first && interrupts(name)) {
                    bringAhead(plan, records);
                    first = false;
                }
                if (!hop.isAhead(name)) {
                    records.add(due(hop, name));
                }
            }
        }
        return List.copyOf(records);
    }

    private static void bringAhead(UnitPlan plan, List<StepRecord> records) {
        plan.hops()
                .forEach(
                        hop ->
                                hop.steps().stream()
                                        .filter(hop::isAhead)
                                        .forEach(name -> records.add(due(hop, name))));
    }

    private static StepRecord due(HopPlan hop, StepName name) {
        return new StepRecord(hop.ordinal(), name, StepState.DUE, 0);
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
     * is ended. What is odd about it is judged before it is disturbed once more, and before its old
     * images are removed.
     *
     * @param now our clock
     */
    public static Next next(UnitPlan plan, List<StepRecord> records, Leave leave, Instant now) {
        for (StepRecord record : records) {
            if (record.state() == StepState.FAILED) {
                return new Next.Stuck(record);
            }
            if (!record.state().isFinished()) {
                return unfinished(plan, records, record, leave, now);
            }
        }
        return new Next.Settled();
    }

    private static Next unfinished(
            UnitPlan plan, List<StepRecord> records, StepRecord record, Leave leave, Instant now) {
        boolean interrupts = record.detour() == 0 && interrupts(record.name());
        if (leave.doubtful() && (interrupts || record.name() == StepName.TIDY)) {
            return new Next.Doubtful(record);
        }
        if (interrupts) {
            return leave.gateOpen()
                    ? onTurn(record, leave, now)
                    : new Next.AtGate(
                            record,
                            GateQuestion.of(plan, hopsAhead(plan, leave), records)
                                    + outside(leave));
        }
        return new Next.Carry(record);
    }

    /** Whichever of them comes first is the first that disturbs anybody. */
    static boolean interrupts(StepName name) {
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

    private static String outside(Leave leave) {
        return leave.begun() >= leave.turns().size()
                        || leave.turns().get(leave.begun()).outside().isEmpty()
                ? ""
                : " It begins where its site may not be disturbed: %s."
                        .formatted(leave.turns().get(leave.begun()).outside());
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
            case RETURN,
                    RESCUE,
                    REPLACE,
                    RESTART_STANDBYS,
                    DRAIN,
                    RESTART,
                    COME_BACK,
                    SECOND_RESTART,
                    COME_BACK_AGAIN,
                    RESTORE_ROLES ->
                    UnitState.CHANGING;
            case PUT_BACK, PROVE, UN_DRAIN, UN_QUIET -> UnitState.PROVING;
            case SOAK, TIDY -> UnitState.SOAKING;
        };
    }
}
