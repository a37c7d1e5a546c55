package calmstep.service.runs;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.step.StepName;
import calmstep.core.step.StepState;
import calmstep.core.step.UnitPlan;
import calmstep.service.json.Json;
import calmstep.service.shelf.Copies;
import calmstep.service.shelf.Copy;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** How far the images of a run are on their way to the devices. */
@Component
class Staging {
    private final Runs runs;
    private final UnitRows units;
    private final StepRows steps;
    private final Copies copies;
    private final Json json;

    Staging(Runs runs, UnitRows units, StepRows steps, Copies copies, Json json) {
        this.runs = runs;
        this.units = units;
        this.steps = steps;
        this.copies = copies;
        this.json = json;
    }

    /**
     * What one hop of a unit needs.
     *
     * @param files names of its images
     * @param state {@code due}; {@code coming} while it is brought; {@code arrived} when it came
     *     and was not proven yet; {@code proven}: its digest on the device is the published one;
     *     {@code stuck}
     * @param words what was seen last, or what is waited for
     * @param from the base that sends it, or the medium that is looked at first; empty for the
     *     shelf
     * @param copy the copy from the shelf that is under way; null when none is
     */
    public record HopStaging(
            String device,
            String site,
            int hop,
            String release,
            List<String> files,
            long sizeBytes,
            String state,
            String words,
            String from,
            Copy.@Nullable View copy) {}

    @Transactional(readOnly = true)
    public List<HopStaging> of(String run) {
        return units.findByRunIdOrderByName(runs.idOf(run)).stream()
                .flatMap(
                        unit -> {
                            UnitPlan plan = json.read(unit.plan, UnitPlan.class);
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(unit.id());
                            Optional<Copy.View> copy = copies.to(unit.name);
                            return plan.hops().stream()
                                    .map(hop -> view(unit, plan, hop, rows, copy));
                        })
                .toList();
    }

    private static HopStaging view(
            UnitRow unit,
            UnitPlan plan,
            UnitPlan.HopPlan hop,
            List<StepRow> rows,
            Optional<Copy.View> copy) {
        List<String> files =
                hop.hop().images().stream()
                        .map(FirmwareImage::fileName)
                        .collect(Collectors.toList());
        StepRow stage = row(rows, hop, StepName.STAGE);
        StepRow proof = row(rows, hop, StepName.CONFIRM_IMAGE);
        StepRow telling = proof.stepState() == StepState.DUE ? stage : proof;
        return new HopStaging(
                unit.name,
                plan.site(),
                hop.ordinal(),
                hop.hop().step(),
                files,
                hop.hop().bytes(),
                state(stage.stepState(), proof.stepState()),
                telling.waiting.isEmpty() ? telling.seen : telling.waiting,
                plan.supply().fedBy().or(plan.supply()::medium).orElse(""),
                copy.filter(one -> files.contains(one.fileName())).orElse(null));
    }

    private static StepRow row(List<StepRow> rows, UnitPlan.HopPlan hop, StepName name) {
        return rows.stream()
                .filter(row -> row.hop == hop.ordinal() && row.name.equals(name.toString()))
                .reduce((_, last) -> last)
                .orElseThrow();
    }

    private static String state(StepState stage, StepState proof) {
        if (stage == StepState.FAILED || proof == StepState.FAILED) {
            return "stuck";
        }
        if (proof.isFinished()) {
            return "proven";
        }
        return stage.isFinished() ? "arrived" : stage == StepState.DUE ? "due" : "coming";
    }
}
