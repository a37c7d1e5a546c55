package calmstep.service.plans;

import calmstep.core.plan.Choice;
import calmstep.core.plan.Draft;
import calmstep.core.plan.Finding;
import calmstep.core.plan.Severity;
import calmstep.core.step.UnitPlan;
import calmstep.service.problems.Reason;
import calmstep.service.problems.Refusal;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What came out, and what people decided about it.
 *
 * @param given what was acknowledged, by the finding's key
 * @param excluded units that somebody wished to stay as they are
 */
record Decisions(Draft draft, Map<String, Acknowledgement> given, Set<String> excluded) {

    /**
     * Devices that nothing is done to: left out by what was said to a caution, or excluded by a
     * wish.
     */
    Set<String> leftOut() {
        return Stream.concat(
                        excluded.stream(),
                        draft.findings().stream()
                                .filter(f -> isSaid(f, Choice.LEAVE_OUT))
                                .map(Finding::device))
                .collect(Collectors.toSet());
    }

    boolean savesFirst(String device) {
        return draft.findings().stream()
                .anyMatch(f -> f.device().equals(device) && isSaid(f, Choice.SAVE_FIRST));
    }

    private boolean mayGo(String device) {
        return draft.findings().stream()
                .anyMatch(f -> f.device().equals(device) && isSaid(f, Choice.MAY_GO));
    }

    private boolean isSaid(Finding finding, Choice choice) {
        return Optional.ofNullable(given.get(finding.key()))
                .filter(a -> a.choice.equals(choice.toString()))
                .isPresent();
    }

    /** What a run carries out. */
    List<UnitPlan> units() {
        Set<String> leftOut = leftOut();
        return draft.units().stream()
                .filter(u -> !leftOut.contains(u.device()))
                .map(u -> u.withSaveFirst(savesFirst(u.device())))
                .map(u -> mayGo(u.device()) ? u.withMayGo() : u)
                .toList();
    }

    /** {@code ready} when something is done and nothing bars it, else {@code draft}. */
    String state() {
        Set<String> leftOut = leftOut();
        boolean open =
                draft.findings().stream()
                        .filter(f -> !leftOut.contains(f.device()))
                        .anyMatch(
                                f ->
                                        f.severity() == Severity.STOP
                                                || (f.severity() == Severity.CAUTION
                                                        && !given.containsKey(f.key())));
        return open || units().isEmpty() ? "draft" : "ready";
    }

    /**
     * What is said to a finding. Any device may be left out, whatever was found of it.
     *
     * @throws Refusal where that cannot be said to it, or not without a reason
     */
    static Choice sayable(Finding finding, String choice, String reason) {
        Choice given = Refusal.reading(() -> Choice.parse(choice));
        boolean leavesOut = given == Choice.LEAVE_OUT && !finding.device().isEmpty();
        if (!leavesOut && !finding.choices().contains(given)) {
            throw Refusal.wrong(
                    "To this finding one can say %s, saw \"%s\"."
                            .formatted(
                                    finding.choices().isEmpty()
                                            ? Choice.LEAVE_OUT
                                            : finding.choices(),
                                    given));
        }
        if (given == Choice.ACCEPT || given == Choice.MAY_GO) {
            Reason.of(reason, "(\"%s\")".formatted(given));
        }
        Reason.plain(reason);
        return given;
    }
}
