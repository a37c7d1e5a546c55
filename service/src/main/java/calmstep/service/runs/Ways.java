package calmstep.service.runs;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Part;
import calmstep.core.step.Detour;
import calmstep.core.step.StepRecord;
import calmstep.core.step.StepState;
import calmstep.core.step.UnitPlan;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import org.springframework.stereotype.Component;

/**
 * What a person may have done about a unit that is stuck. It asks what the word itself will ask, so
 * that nothing is offered that would be refused.
 */
@Component
class Ways {
    private final Fleet fleet;
    private final DetourImages images;
    private final StepEvidence evidence;

    Ways(Fleet fleet, DetourImages images, StepEvidence evidence) {
        this.fleet = fleet;
        this.images = images;
        this.evidence = evidence;
    }

    /**
     * What a person may have done about a unit that is stuck, as the words of the interface.
     *
     * @param back as {@link #back} has it
     */
    List<String> of(UnitRow unit, UnitPlan plan, List<StepRow> rows, WayBack back) {
        List<StepRecord> records = rows.stream().map(StepRow::record).toList();
        List<String> ways = new ArrayList<>();
        if (fleet.dialectOf(unit.name).abilities().rescues()
                && Detour.rescued(records)
                        .filter(
                                _ ->
                                        isThere(
                                                () ->
                                                        images.rescueImage(
                                                                unit,
                                                                hopOf(records),
                                                                rows,
                                                                Optional.empty())))
                        .isPresent()) {
            ways.add("rescue");
        }
        if (OneAnswer.asked(rows).isPresent()) {
            ways.add("answer");
        }
        ways.add("retry");
        if (again(plan, records).isPresent()) {
            ways.add("again");
        }
        if (Detour.takenOver(records).isPresent()) {
            ways.add("take-over");
        }
        if (back.isOpen()) {
            ways.add("return");
        }
        if (replaced(fleet, plan, records).isPresent()) {
            ways.add("replace");
        }
        if (!without(unit, plan, rows).isEmpty()) {
            ways.add("without");
        }
        if (memberReplaced(unit, plan, rows).isPresent()) {
            ways.add("replace-member");
        }
        addSkip(records, ways);
        ways.add("set-aside");
        return ways;
    }

    /** How it could go back: one that does not answer is waited for first. */
    WayBack back(UnitRow unit, List<StepRow> rows) {
        return Detour.isWaitedFor(rows.stream().map(StepRow::record).toList())
                ? new WayBack(List.of(), "")
                : images.wayBack(unit, rows);
    }

    private static boolean isThere(Supplier<?> asked) {
        try {
            return asked.get() != null;
        } catch (Refusal refused) {
            return false;
        }
    }

    private static int hopOf(List<StepRecord> records) {
        return Detour.stuck(records).orElseThrow().hop();
    }

    /** Members that the unit could go on without; none where it could not. */
    Set<String> without(UnitRow unit, UnitPlan plan, List<StepRow> rows) {
        Set<String> out = out(rows);
        if (out.isEmpty()) {
            return out;
        }
        List<StepRecord> records = rows.stream().map(StepRow::record).toList();
        int hop = hopOf(records);
        int others = members(unit, rows, hop) - plan.without().size() - out.size();
        return Detour.mayGoOnWith(others, records, plan.hop(hop)) ? out : Set.of();
    }

    /** What comes once another box stands in the place of a member that is out. */
    Optional<List<StepRecord>> memberReplaced(UnitRow unit, UnitPlan plan, List<StepRow> rows) {
        List<StepRecord> records = rows.stream().map(StepRow::record).toList();
        return out(rows).isEmpty()
                ? Optional.empty()
                : Detour.stuck(records)
                        .map(stuck -> plan.hop(stuck.hop()))
                        .filter(hop -> hop.hop().component().equals(Catalogue.SYSTEM))
                        .flatMap(hop -> Detour.memberReplaced(records, hop));
    }

    private static Set<String> out(List<StepRow> rows) {
        return rows.stream()
                .filter(row -> row.stepState() == StepState.FAILED)
                .findFirst()
                .map(StepRow::membersOut)
                .orElse(Set.of());
    }

    /** As its check saw it; before that, as the inventory has it. */
    private int members(UnitRow unit, List<StepRow> rows, int hop) {
        return evidence.before(rows, hop)
                .map(before -> before.members().size())
                .orElseGet(
                        () ->
                                Math.toIntExact(
                                        fleet.require(unit.name).device().parts().stream()
                                                .filter(part -> part.kind() == Part.Kind.MEMBER)
                                                .count()));
    }

    private static void addSkip(List<StepRecord> records, List<String> ways) {
        if (Detour.stuck(records).filter(stuck -> stuck.name().maySkip()).isPresent()) {
            ways.add("skip");
        }
    }

    static Optional<List<StepRecord>> again(UnitPlan plan, List<StepRecord> records) {
        return Detour.stuck(records).flatMap(stuck -> Detour.again(records, plan.hop(stuck.hop())));
    }

    static Optional<List<StepRecord>> replaced(
            Fleet fleet, UnitPlan plan, List<StepRecord> records) {
        return Detour.stuck(records)
                .map(stuck -> plan.hop(stuck.hop()))
                .filter(hop -> hop.hop().component().equals(Catalogue.SYSTEM))
                .flatMap(
                        hop ->
                                Detour.replaced(
                                        records,
                                        hop,
                                        fleet.dialectOf(plan.device()).abilities().putsBack()));
    }
}
