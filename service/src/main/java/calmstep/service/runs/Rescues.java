package calmstep.service.runs;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.step.Evidence;
import calmstep.core.step.RescueImage;
import calmstep.core.step.StepName;
import calmstep.core.step.StepRecord;
import calmstep.core.step.UnitMachine;
import calmstep.core.step.UnitPlan;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import calmstep.service.shelf.Shelf;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** A person's word that a device which stopped in its boot loader is started from memory, and has to start by itself afterwards. */
@Component
class Rescues {
    private static final int OUT_OF_THE_WAY = 10_000;

    private final Runs runs;
    private final StepRows steps;
    private final Fleet fleet;
    private final Catalogues catalogues;
    private final Shelf shelf;
    private final Events events;
    private final Wake wake;
    private final Json json;

    Rescues(Runs runs, StepRows steps, Fleet fleet, Catalogues catalogues, Shelf shelf, Events events, Wake wake, Json json) {
        this.runs = runs;
        this.steps = steps;
        this.fleet = fleet;
        this.catalogues = catalogues;
        this.shelf = shelf;
        this.events = events;
        this.wake = wake;
        this.json = json;
    }

    /** Whether the dialect of a device knows the way out of its boot loader. */
    static boolean isPossible(Fleet fleet, String device) {
        return fleet.dialectOf(device).abilities().rescues();
    }

    /** @param asked the image that a person names; empty for the best one on the shelf */
    RunView rescue(String run, String unit, Optional<String> asked, String who) {
        if (!isPossible(fleet, unit)) {
            throw Refusal.conflict("The dialect of %s describes no way out of its boot loader. Start an image by hand over its console line, then try the step again.".formatted(fleet.dialectOf(unit).title()));
        }
        UnitRow row = runs.change(run, unit, (in, stuck) -> {
            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(stuck.id());
            List<StepRecord> records = rows.stream().map(StepRow::record).toList();
            List<StepRecord> after = UnitMachine.rescued(records).orElseThrow(() -> Refusal.conflict("%s is not one that did not come back; it is %s. Only such a device is rescued.".formatted(stuck.name, stuck.state)));
            FirmwareImage image = image(stuck, after, rows, asked);
            lay(stuck, rows, after, image.fileName());
            stuck.state = UnitMachine.stateOf(after).toString();
            events.append(Optional.of(in.id()), stuck.name, "unit", who, "%s has %s rescued with %s.".formatted(who, stuck.name, image.fileName()));
        });
        wake.unit(row.id());
        return runs.find(run);
    }

    private FirmwareImage image(UnitRow unit, List<StepRecord> after, List<StepRow> rows, Optional<String> asked) {
        Fleet.Known known = fleet.require(unit.name);
        Catalogue catalogue = catalogues.find(known.device().family()).orElseThrow();
        int hop = after.stream().filter(record -> record.name() == StepName.RESCUE).reduce((_, last) -> last).orElseThrow().hop();
        UnitPlan.HopPlan planned = json.read(unit.plan, UnitPlan.class).hop(hop);
        String ranBefore = rows.stream().filter(row -> row.hop == hop && row.name.equals(StepName.CHECK.toString()) && row.evidence != null).findFirst()
                .flatMap(row -> json.read(Optional.ofNullable(row.evidence).orElse("{}"), Evidence.class).reading()).map(reading -> reading.system()).orElse(planned.hop().from());
        List<FirmwareImage> candidates = RescueImage.candidates(catalogue, known.device().hardware(), ranBefore, planned.hop(), shelf.fileNames());
        if (asked.isPresent()) {
            return catalogue.findImage(asked.get()).filter(_ -> shelf.has(asked.get())).map(Catalogue.PublishedImage::image)
                    .filter(image -> image.variant().fits(known.device().hardware()))
                    .orElseThrow(() -> Refusal.conflict("%s is no image of %s for this hardware that lies on the shelf. These are: %s.".formatted(asked.get(), catalogue.title(), names(candidates))));
        }
        return candidates.stream().findFirst().orElseThrow(() -> Refusal.conflict("The shelf holds nothing that %s could be started with: a recovery image of its maker, %s, or %s. Take one in first.".formatted(unit.name, ranBefore, planned.hop().to())));
    }

    private static String names(List<FirmwareImage> images) {
        return images.isEmpty() ? "none" : images.stream().map(FirmwareImage::fileName).collect(Collectors.joining(", "));
    }

    /** Brings the rows into the order of the records; those that are there keep what they tell. */
    private void lay(UnitRow unit, List<StepRow> rows, List<StepRecord> after, String loads) {
        rows.forEach(row -> row.ordinal += OUT_OF_THE_WAY);
        steps.flush();
        int ordinal = 0;
        for (StepRecord record : after) {
            StepRow row = rows.stream().filter(one -> one.is(record)).findFirst().orElseGet(() -> {
                StepRow added = new StepRow();
                added.unitId = unit.id();
                added.hop = record.hop();
                added.detour = record.detour();
                added.name = record.name().toString();
                added.loads = record.name() == StepName.RESCUE ? loads : null;
                return added;
            });
            row.ordinal = ++ordinal;
            row.state = record.state().toString();
            steps.save(row);
        }
    }
}
