package calmstep.core.step;

import calmstep.core.order.Outage;
import calmstep.core.path.Hop;
import calmstep.core.step.UnitPlan.HopPlan;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/**
 * What a person is asked before anybody is disturbed. Each of its sentences is worked out from what
 * was proven on the device up to here; what comes later is said to come later.
 */
final class GateQuestion {
    private final UnitPlan plan;
    private final List<HopPlan> hops;
    private final List<StepRecord> records;

    private GateQuestion(UnitPlan plan, List<HopPlan> hops, List<StepRecord> records) {
        this.plan = plan;
        this.hops = hops;
        this.records = records;
    }

    /**
     * @param hops those that the word is for
     */
    static String of(UnitPlan plan, List<HopPlan> hops, List<StepRecord> records) {
        GateQuestion question = new GateQuestion(plan, hops, records);
        return "%s %s, from %s to %s.%s %s %s %s"
                .formatted(
                        plan.device(),
                        question.serves()
                                ? "restarts member by member and goes on serving, but for the"
                                        + " moment of a hand-over"
                                : question.interruption(),
                        UnitPlan.from(hops),
                        hops.getLast().hop().step(),
                        question.traffic(),
                        question.whoIsBehind(),
                        question.images(),
                        question.backup());
    }

    /** What is done for those whose traffic goes over it, where its family can. */
    private String traffic() {
        boolean drains = hops.stream().anyMatch(hop -> hop.steps().contains(StepName.DRAIN));
        boolean restores = hops.getLast().steps().contains(StepName.RESTORE_ROLES);
        String drained =
                serves()
                        ? " What goes over the active member is drained before it hands over."
                        : " What goes over it is drained first.";
        return (drains ? drained : "")
                + (restores
                        ? " Then it hands over once more, and whoever is active now is so again."
                        : "");
    }

    private boolean serves() {
        return hops.stream().allMatch(HopPlan::rolls);
    }

    private String whoIsBehind() {
        String behind =
                serves() ? "Behind it, on one member less at a time" : "Without network meanwhile";
        return plan.serves().isEmpty()
                ? "Nobody wrote down who stands behind it."
                : "%s: %s.".formatted(behind, plan.serves());
    }

    private String interruption() {
        int count = hops.stream().mapToInt(h -> h.hop().restarts()).sum();
        String restarts =
                switch (count) {
                    case 0 ->
                            "goes on, its %s restarts".formatted(hops.getFirst().hop().component());
                    case 1 -> "restarts once";
                    default -> "restarts %s times".formatted(count);
                };
        return "%s and is dark for about %s in all"
                .formatted(restarts, Outage.words(UnitPlan.dark(hops)));
    }

    /** Those that are proven on the device, and those that are not there yet. */
    private String images() {
        List<HopPlan> later = hops.stream().filter(hop -> !isProven(hop)).toList();
        if (later.isEmpty()) {
            return hops.size() == 1
                    ? "Its image is staged and proven."
                    : "All its %s images are staged and proven.".formatted(hops.size());
        }
        List<String> sentences = new ArrayList<>();
        List<HopPlan> proven = hops.stream().filter(this::isProven).toList();
        if (!proven.isEmpty()) {
            sentences.add("Staged and proven: the image of %s.".formatted(steps(proven)));
        }
        later.forEach(hop -> sentences.add(comesInBetween(hop)));
        return String.join(" ", sentences);
    }

    private String comesInBetween(HopPlan hop) {
        String stays =
                hop.ordinal() == hops.getFirst().ordinal()
                        ? hop.hop().from()
                        : plan.hop(hop.ordinal() - 1).hop().step();
        boolean mayStay = hop.ordinal() == 1 || plan.hop(hop.ordinal() - 1).hop().mayRest();
        return "The image of %s is copied in between, when it runs %s: if that fails, it stays there, where it %s, until somebody decides."
                .formatted(hop.hop().step(), stays, mayStay ? "may rest" : "may NOT rest");
    }

    private static String steps(List<HopPlan> some) {
        return some.stream().map(HopPlan::hop).map(Hop::step).collect(Collectors.joining(", "));
    }

    private boolean isProven(HopPlan hop) {
        return hasProof(hop, StepName.CONFIRM_IMAGE);
    }

    private String backup() {
        return hasProof(hops.getFirst(), StepName.BACK_UP)
                ? "Its configuration is backed up."
                : "Its configuration is NOT backed up.";
    }

    /** A step that somebody left out has proven nothing. */
    private boolean hasProof(HopPlan hop, StepName name) {
        return records.stream()
                .filter(record -> record.hop() == hop.ordinal() && record.name() == name)
                .reduce((_, last) -> last)
                .filter(
                        record ->
                                record.state() == StepState.DONE
                                        || record.state() == StepState.NOT_NEEDED)
                .isPresent();
    }
}
