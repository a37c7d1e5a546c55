package calmstep.core.step;

import calmstep.core.step.UnitPlan.HopPlan;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * What a person's word puts in between the planned steps of a unit that is stuck. Pure: records in,
 * records out; empty where the word is not for this unit as it stands, so that what is offered and
 * what is accepted are the same.
 */
public final class Detour {
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
                    StepName.RESTART_STANDBYS,
                    StepName.DRAIN,
                    StepName.RESTART,
                    StepName.COME_BACK,
                    StepName.PUT_BACK,
                    StepName.PROVE,
                    StepName.UN_DRAIN,
                    StepName.UN_QUIET,
                    StepName.SOAK,
                    StepName.TIDY);

    private static final List<StepName> AGAIN =
            List.of(
                    StepName.QUIET,
                    StepName.CHOOSE_BOOT,
                    StepName.RESTART_STANDBYS,
                    StepName.DRAIN,
                    StepName.RESTART,
                    StepName.COME_BACK,
                    StepName.SECOND_RESTART,
                    StepName.COME_BACK_AGAIN,
                    StepName.PUT_BACK,
                    StepName.PROVE);

    private Detour() {}

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
     * The hops that a stuck unit could be taken back over, the newest first: the one at which it is
     * stuck, where its boot choice was made there, and those that were done before it.
     *
     * @param first ordinal of the first one to be looked at: that of its night
     * @return empty where nothing was chosen, or it is on its way back already
     */
    public static List<Integer> behind(List<StepRecord> records, int first) {
        return stuck(records)
                .filter(stuck -> records.stream().noneMatch(Detour::isReturn))
                .map(
                        stuck ->
                                IntStream.iterate(stuck.hop(), hop -> hop >= first, hop -> hop - 1)
                                        .filter(hop -> isChosen(records, hop))
                                        .boxed()
                                        .toList())
                .orElse(List.of());
    }

    private static boolean isReturn(StepRecord record) {
        return record.name() == StepName.RETURN;
    }

    private static boolean isChosen(List<StepRecord> records, int hop) {
        return records.stream()
                .anyMatch(
                        record ->
                                record.hop() == hop
                                        && record.name() == StepName.CHOOSE_BOOT
                                        && record.state() == StepState.DONE);
    }

    /**
     * The records after a person's word that a unit goes back to what it ran before: what was
     * planned is left out, and each hop that was done is taken back.
     *
     * @param plan the unit's
     * @param over hops of {@link #behind}, the newest first
     * @param putsBack whether a configuration can be written into it
     * @return empty where it is not stuck, or goes back over nothing
     */
    public static Optional<List<StepRecord>> returned(
            List<StepRecord> records, UnitPlan plan, List<Integer> over, boolean putsBack) {
        return stuck(records)
                .filter(_ -> !over.isEmpty())
                .map(
                        stuck -> {
                            List<StepRecord> after =
                                    new ArrayList<>(detour(records, stuck, List.of(), _ -> true));
                            int detour = newest(records) + 1;
                            after.addAll(
                                    1 + placeOf(after, stuck),
                                    over.stream()
                                            .flatMap(
                                                    hop ->
                                                            backOver(
                                                                    plan.hop(hop),
                                                                    detour,
                                                                    hop.equals(over.getLast()),
                                                                    putsBack))
                                            .toList());
                            return List.copyOf(after);
                        });
    }

    private static int placeOf(List<StepRecord> records, StepRecord one) {
        return (int) records.stream().takeWhile(record -> !record.isSame(one)).count();
    }

    /** It is watched, and its storage tidied, once it is where it stays. */
    private static Stream<StepRecord> backOver(
            HopPlan hop, int detour, boolean last, boolean putsBack) {
        return RETURN.stream()
                .filter(name -> last || name.compareTo(StepName.SOAK) < 0)
                .filter(name -> belongsTo(name, hop, putsBack))
                .map(name -> new StepRecord(hop.ordinal(), detour, name, StepState.DUE, 0));
    }

    private static boolean belongsTo(StepName name, HopPlan hop, boolean putsBack) {
        return UnitPlan.FURTHER.contains(name)
                ? hop.steps().contains(name)
                : putsBack || name != StepName.PUT_BACK;
    }

    /**
     * Whether a unit is stuck because it does not answer: such a one is rescued, or tried again
     * when it is back. It can go back only after a look that finds it there.
     */
    public static boolean isWaitedFor(List<StepRecord> records) {
        return stuck(records)
                .filter(
                        stuck ->
                                stuck.name() == StepName.COME_BACK
                                        || stuck.name() == StepName.COME_BACK_AGAIN)
                .isPresent();
    }

    /**
     * The records after a person's word that a unit is to choose its image and restart once more:
     * it came back on what it ran before, and looking again shows nothing else.
     *
     * @param hop the one at which it is stuck
     * @return empty where it is not stuck at the proof of a hop that restarts it, or is on its way
     *     back
     */
    public static Optional<List<StepRecord>> again(List<StepRecord> records, HopPlan hop) {
        return stuck(records)
                .filter(
                        stuck ->
                                stuck.name() == StepName.PROVE
                                        && stuck.hop() == hop.ordinal()
                                        && hop.steps().contains(StepName.RESTART)
                                        && !isBackwards(records, stuck))
                .map(
                        stuck ->
                                detour(
                                        records,
                                        stuck,
                                        AGAIN.stream().filter(hop.steps()::contains).toList(),
                                        _ -> false));
    }

    /**
     * The records after a person's word that a unit's configuration is taken as it is now: it is
     * checked and backed up once more, before anything is chosen.
     *
     * @return empty where it is not stuck at a check, or before its boot choice
     */
    public static Optional<List<StepRecord>> takenOver(List<StepRecord> records) {
        return stuck(records)
                .filter(
                        stuck ->
                                stuck.name() == StepName.CHECK
                                        || (stuck.detour() == 0
                                                && UnitMachine.interrupts(stuck.name())))
                .map(stuck -> checkedAnew(records, stuck));
    }

    private static List<StepRecord> checkedAnew(List<StepRecord> records, StepRecord stuck) {
        int detour = newest(records) + 1;
        List<StepRecord> after = new ArrayList<>();
        for (StepRecord record : records) {
            if (record.equals(stuck)) {
                if (stuck.name() != StepName.CHECK) {
                    after.add(
                            new StepRecord(stuck.hop(), detour, StepName.CHECK, StepState.DUE, 0));
                    after.add(
                            new StepRecord(
                                    stuck.hop(), detour, StepName.BACK_UP, StepState.DUE, 0));
                }
                after.add(
                        new StepRecord(
                                stuck.hop(), stuck.detour(), stuck.name(), StepState.DUE, 0));
            } else {
                after.add(record);
            }
        }
        return List.copyOf(after);
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
                .filter(stuck -> stuck.hop() == hop.ordinal() && !isBackwards(records, stuck))
                .filter(
                        stuck ->
                                records.stream()
                                        .filter(record -> record.hop() <= stuck.hop())
                                        .filter(record -> record.name() == StepName.BACK_UP)
                                        .map(StepRecord::state)
                                        .anyMatch(
                                                state ->
                                                        state.isFinished()
                                                                && state != StepState.SKIPPED))
                .map(stuck -> anew(records, stuck, steps));
    }

    /**
     * The records after a person's word that another box stands in the place of a member: what the
     * unit needs of the hop is brought to all of its members and chosen once more, and who does not
     * run the release yet restarts.
     *
     * @param hop the one at which it is stuck
     * @return empty where it is not stuck behind the hop's copy, or is on its way back; before it,
     *     trying again is enough
     */
    public static Optional<List<StepRecord>> memberReplaced(List<StepRecord> records, HopPlan hop) {
        List<StepName> steps = hop.steps().stream().filter(Detour::isBetweenRoomAndProof).toList();
        return stuck(records)
                .filter(stuck -> stuck.hop() == hop.ordinal() && !isBackwards(records, stuck))
                .filter(
                        stuck ->
                                stuck.name().compareTo(StepName.CONFIRM_IMAGE) > 0
                                        && stuck.name().compareTo(StepName.UN_QUIET) <= 0)
                .map(stuck -> anew(records, stuck, steps));
    }

    /** What is left of the hop up to its proof is left out: the steps do it. */
    private static List<StepRecord> anew(
            List<StepRecord> records, StepRecord stuck, List<StepName> steps) {
        return detourWithImages(
                records,
                stuck,
                steps,
                record ->
                        record.hop() == stuck.hop()
                                && record.name().compareTo(StepName.UN_QUIET) <= 0);
    }

    /** What was brought ahead of its hop lies on the box that is gone: it is brought once more. */
    private static List<StepRecord> detourWithImages(
            List<StepRecord> records,
            StepRecord stuck,
            List<StepName> steps,
            Predicate<StepRecord> leavesOut) {
        List<StepRecord> after = new ArrayList<>(detour(records, stuck, steps, leavesOut));
        int detour = newest(after);
        int behind = 1 + lastOf(after, detour);
        List<StepRecord> ahead =
                records.stream()
                        .takeWhile(record -> !record.equals(stuck))
                        .filter(record -> record.hop() > stuck.hop())
                        .filter(record -> record.name().bringsImage())
                        .map(
                                record ->
                                        new StepRecord(
                                                record.hop(),
                                                detour,
                                                record.name(),
                                                StepState.DUE,
                                                0))
                        .toList();
        after.addAll(behind, ahead);
        return List.copyOf(after);
    }

    private static int lastOf(List<StepRecord> records, int detour) {
        int last = 0;
        for (int i = 0; i < records.size(); i++) {
            last = records.get(i).detour() == detour ? i : last;
        }
        return last;
    }

    /** What dependents hold already is theirs, whatever stands before them. */
    private static boolean isBetweenRoomAndProof(StepName name) {
        return name.compareTo(StepName.MAKE_ROOM) >= 0
                && name.compareTo(StepName.UN_QUIET) <= 0
                && name != StepName.PRE_LOAD;
    }

    /**
     * Whether those members of a unit that are left could be changed without the others: as long as
     * members restart one after the other, one must be there to take over.
     *
     * @param left how many do their part
     * @param hop the one at which it is stuck, there or back
     */
    public static boolean mayGoOnWith(int left, List<StepRecord> records, HopPlan hop) {
        boolean stillRestarts =
                records.stream()
                        .anyMatch(
                                record ->
                                        record.hop() == hop.ordinal()
                                                && record.name() == StepName.RESTART
                                                && !record.state().isFinished());
        return left >= (hop.atOnce() > 0 && stillRestarts ? 2 : 1);
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

    /** The step at which a unit is stuck. */
    public static Optional<StepRecord> stuck(List<StepRecord> records) {
        return records.stream().filter(record -> record.state() == StepState.FAILED).findFirst();
    }

    /** Detours are counted from 1. */
    private static int newest(List<StepRecord> records) {
        return records.stream().mapToInt(StepRecord::detour).max().orElse(0);
    }

    private static List<StepRecord> detour(
            List<StepRecord> records,
            StepRecord stuck,
            List<StepName> steps,
            Predicate<StepRecord> leavesOut) {
        int detour = newest(records) + 1;
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
}
