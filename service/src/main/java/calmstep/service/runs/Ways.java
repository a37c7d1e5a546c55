package calmstep.service.runs;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.step.Detour;
import calmstep.core.step.StepRecord;
import calmstep.core.step.UnitPlan;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
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

    Ways(Fleet fleet, DetourImages images) {
        this.fleet = fleet;
        this.images = images;
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
