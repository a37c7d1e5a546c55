package calmstep.service.runs;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.step.MeetReplacement;
import calmstep.core.step.RescueImage;
import calmstep.core.step.StepName;
import calmstep.core.step.StepRecord;
import calmstep.core.step.StepState;
import calmstep.core.step.UnitMachine;
import calmstep.core.step.UnitPlan;
import calmstep.core.step.UnitPlan.HopPlan;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Replacements;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import calmstep.service.shelf.Shelf;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/**
 * A person's word that puts steps between the planned ones: a device is rescued from its boot
 * loader, goes back to what it ran, or another box takes its place.
 */
@Component
class Detours {
    private static final int OUT_OF_THE_WAY = 10_000;

    private final Runs runs;
    private final StepRows steps;
    private final Fleet fleet;
    private final Replacements replacements;
    private final UnitPlans plans;
    private final Catalogues catalogues;
    private final Shelf shelf;
    private final StepEvidence evidence;
    private final Events events;
    private final Wake wake;

    Detours(
            Runs runs,
            StepRows steps,
            Fleet fleet,
            Replacements replacements,
            UnitPlans plans,
            Catalogues catalogues,
            Shelf shelf,
            StepEvidence evidence,
            Events events,
            Wake wake) {
        this.runs = runs;
        this.steps = steps;
        this.fleet = fleet;
        this.replacements = replacements;
        this.plans = plans;
        this.catalogues = catalogues;
        this.shelf = shelf;
        this.evidence = evidence;
        this.events = events;
        this.wake = wake;
    }

    /** What a person may have done about a unit that is stuck, as the words of the interface. */
    static List<String> ways(Fleet fleet, UnitRow unit, UnitPlan plan, List<StepRow> rows) {
        List<StepRecord> records = rows.stream().map(StepRow::record).toList();
        List<String> ways = new ArrayList<>();
        if (fleet.dialectOf(unit.name).abilities().rescues()
                && UnitMachine.rescued(records).isPresent()) {
            ways.add("rescue");
        }
        ways.add("retry");
        if (UnitMachine.returned(records, true).isPresent()) {
            ways.add("return");
        }
        if (replaced(fleet, plan, records).isPresent()) {
            ways.add("replace");
        }
        addSkip(records, ways);
        ways.add("set-aside");
        return ways;
    }

    private static void addSkip(List<StepRecord> records, List<String> ways) {
        if (records.stream()
                .anyMatch(
                        record -> record.state() == StepState.FAILED && record.name().maySkip())) {
            ways.add("skip");
        }
    }

    /**
     * @param asked the image that a person names; empty for the best one on the shelf
     */
    RunView rescue(String run, String unit, Optional<String> asked, String who) {
        if (!fleet.dialectOf(unit).abilities().rescues()) {
            throw Refusal.conflict(
                    "The dialect of %s describes no way out of its boot loader. Start an image by hand over its console line, then try the step again."
                            .formatted(fleet.dialectOf(unit).title()));
        }
        UnitRow row =
                runs.change(
                        run,
                        unit,
                        (in, stuck) -> {
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(stuck.id());
                            List<StepRecord> after =
                                    UnitMachine.rescued(records(rows))
                                            .orElseThrow(
                                                    () ->
                                                            Refusal.conflict(
                                                                    "%s is not one that did not come back; it is %s. Only such a device is rescued."
                                                                            .formatted(
                                                                                    stuck.name,
                                                                                    stuck.state)));
                            FirmwareImage image =
                                    image(stuck, hopOf(after, StepName.RESCUE), rows, asked);
                            lay(stuck, rows, after, image.fileName());
                            events.append(
                                    Optional.of(in.id()),
                                    stuck.name,
                                    "unit",
                                    who,
                                    "%s has %s rescued with %s."
                                            .formatted(who, stuck.name, image.fileName()));
                        });
        wake.unit(row.id());
        return runs.find(run);
    }

    /** Back to what it ran before the hop at which it is stuck, its configuration with it. */
    RunView goBack(String run, String unit, String why, String who) {
        boolean putsBack = fleet.dialectOf(unit).abilities().putsBack();
        UnitRow row =
                runs.change(
                        run,
                        unit,
                        (in, stuck) -> {
                            Runs.mustSayWhy(why, "the unit goes back");
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(stuck.id());
                            List<StepRecord> after =
                                    UnitMachine.returned(records(rows), putsBack)
                                            .orElseThrow(
                                                    () ->
                                                            Refusal.conflict(
                                                                    "%s is not stuck behind a boot choice; it is %s. Where nothing was chosen nothing is returned: set it aside."
                                                                            .formatted(
                                                                                    stuck.name,
                                                                                    stuck.state)));
                            HopPlan back = back(stuck, rows, hopOf(after, StepName.RETURN));
                            lay(stuck, rows, after, "");
                            events.append(
                                    Optional.of(in.id()),
                                    stuck.name,
                                    "unit",
                                    who,
                                    "%s has %s go back to %s: %s"
                                            .formatted(who, stuck.name, back.hop().to(), why));
                        });
        wake.unit(row.id());
        return runs.find(run);
    }

    /**
     * Another box stands there now, with the name, the address and a login of the one that it
     * replaces. It is met before anything is laid out: so whoever says it hears at once whether it
     * is the one that was meant, and its host key is believed for its serial number's sake, not for
     * standing at the address.
     */
    RunView replace(String run, String unit, String serial, String why, String who) {
        Runs.mustSayWhy(why, "another box takes its place");
        if (serial.isBlank()) {
            throw Refusal.wrong(
                    "Say the serial number of the box that stands there now; it is what tells that"
                            + " box from any other at this address.");
        }
        // Nothing is changed yet: a talk with a device is no matter for a transaction.
        runs.change(
                run,
                unit,
                (_, stuck) -> replaced(stuck, steps.findByUnitIdOrderByOrdinal(stuck.id())));
        Replacements.Met met = replacements.meet(unit);
        UnitRow row =
                runs.change(
                        run,
                        unit,
                        (in, stuck) -> {
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(stuck.id());
                            List<StepRecord> after = replaced(stuck, rows);
                            String planned = plans.of(stuck).serial();
                            int hop = hopOf(after, StepName.REPLACE);
                            stuck.serial = serial;
                            UnitPlan plan = plans.of(stuck);
                            MeetReplacement.unfit(
                                            plan,
                                            plan.hop(hop),
                                            evidence.before(rows, hop),
                                            met.reading())
                                    .ifPresent(
                                            trouble -> {
                                                throw Refusal.conflict(trouble.sentence());
                                            });
                            replacements.believe(stuck.name, met, who);
                            lay(stuck, rows, after, "");
                            events.append(
                                    Optional.of(in.id()),
                                    stuck.name,
                                    "unit",
                                    who,
                                    "%s has the box with serial number %s take the place of %s, which had %s: %s"
                                            .formatted(who, serial, stuck.name, planned, why));
                        });
        wake.unit(row.id());
        return runs.find(run);
    }

    /**
     * @throws Refusal where no box can take its place within the run
     */
    private List<StepRecord> replaced(UnitRow stuck, List<StepRow> rows) {
        return replaced(fleet, plans.of(stuck), records(rows))
                .orElseThrow(
                        () ->
                                Refusal.conflict(
                                        "%s is %s; a box is replaced within a run where it is stuck, not on its way back, on a hop of its system, and its configuration was backed up in this run. Else set it aside, and plan the new box anew."
                                                .formatted(stuck.name, stuck.state)));
    }

    private static Optional<List<StepRecord>> replaced(
            Fleet fleet, UnitPlan plan, List<StepRecord> records) {
        return records.stream()
                .filter(record -> record.state() == StepState.FAILED)
                .findFirst()
                .map(stuck -> plan.hop(stuck.hop()))
                .filter(hop -> hop.hop().component().equals(Catalogue.SYSTEM))
                .flatMap(
                        hop ->
                                UnitMachine.replaced(
                                        records,
                                        hop,
                                        fleet.dialectOf(plan.device()).abilities().putsBack()));
    }

    private static List<StepRecord> records(List<StepRow> rows) {
        return rows.stream().map(StepRow::record).toList();
    }

    private static int hopOf(List<StepRecord> after, StepName name) {
        return after.stream()
                .filter(record -> record.name() == name)
                .reduce((_, last) -> last)
                .orElseThrow()
                .hop();
    }

    /**
     * The way back over a hop.
     *
     * @throws Refusal where it moves a component beside the system, or no catalogue publishes what
     *     ran before
     */
    HopPlan back(UnitRow unit, List<StepRow> rows, int ordinal) {
        HopPlan hop = plans.of(unit).hop(ordinal);
        if (!hop.hop().component().equals(Catalogue.SYSTEM)) {
            throw Refusal.conflict(
                    "This hop moves the %s of %s, and what ran there before is not kept on the device. Go back by hand, then set the unit aside."
                            .formatted(hop.hop().component(), unit.name));
        }
        List<FirmwareImage> images =
                before(rows, ordinal)
                        .map(reading -> BootChoice.filesOf(reading.boot().running()))
                        .orElse(List.of())
                        .stream()
                        .map(
                                file ->
                                        catalogues
                                                .findImage(file)
                                                .map(found -> found.published().image())
                                                .orElseThrow(
                                                        () ->
                                                                Refusal.conflict(
                                                                        "%s ran %s before, and no catalogue publishes it, so nothing could be proven. Go back by hand, then set the unit aside."
                                                                                .formatted(
                                                                                        unit.name,
                                                                                        file))))
                        .toList();
        if (images.isEmpty()) {
            throw Refusal.conflict(
                    "Nobody wrote down what %s ran before. Go back by hand, then set the unit aside."
                            .formatted(unit.name));
        }
        return hop.back(images);
    }

    /** What its check saw before a hop. */
    private Optional<Reading> before(List<StepRow> rows, int hop) {
        return rows.stream()
                .filter(row -> row.hop == hop && row.name.equals(StepName.CHECK.toString()))
                .findFirst()
                .flatMap(evidence::reading);
    }

    private FirmwareImage image(UnitRow unit, int hop, List<StepRow> rows, Optional<String> asked) {
        Fleet.Known known = fleet.require(unit.name);
        Catalogue catalogue = catalogues.find(known.device().family()).orElseThrow();
        HopPlan planned = plans.of(unit).hop(hop);
        String ranBefore = before(rows, hop).map(Reading::system).orElse(planned.hop().from());
        List<FirmwareImage> candidates =
                RescueImage.candidates(
                        catalogue,
                        known.device().hardware(),
                        ranBefore,
                        planned.hop(),
                        shelf.fileNames());
        if (asked.isPresent()) {
            return catalogue
                    .findImage(asked.get())
                    .filter(_ -> shelf.has(asked.get()))
                    .map(Catalogue.PublishedImage::image)
                    .filter(image -> image.variant().fits(known.device().hardware()))
                    .orElseThrow(
                            () ->
                                    Refusal.conflict(
                                            "%s is no image of %s for this hardware that lies on the shelf. These are: %s."
                                                    .formatted(
                                                            asked.get(),
                                                            catalogue.title(),
                                                            names(candidates))));
        }
        return candidates.stream()
                .findFirst()
                .orElseThrow(
                        () ->
                                Refusal.conflict(
                                        "The shelf holds nothing that %s could be started with: a recovery image of its maker, %s, or %s. Take one in first."
                                                .formatted(
                                                        unit.name, ranBefore, planned.hop().to())));
    }

    private static String names(List<FirmwareImage> images) {
        return images.isEmpty()
                ? "none"
                : images.stream().map(FirmwareImage::fileName).collect(Collectors.joining(", "));
    }

    /** Brings the rows into the order of the records; those that are there keep what they tell. */
    private void lay(UnitRow unit, List<StepRow> rows, List<StepRecord> after, String loads) {
        rows.forEach(row -> row.ordinal += OUT_OF_THE_WAY);
        steps.flush();
        int ordinal = 0;
        for (StepRecord record : after) {
            StepRow row =
                    rows.stream()
                            .filter(one -> one.is(record))
                            .findFirst()
                            .orElseGet(() -> newRow(unit, record, loads));
            row.ordinal = ++ordinal;
            row.state = record.state().toString();
            steps.save(row);
        }
        unit.state = UnitMachine.stateOf(after).toString();
    }

    private static StepRow newRow(UnitRow unit, StepRecord record, String loads) {
        StepRow added = new StepRow();
        added.unitId = unit.id();
        added.hop = record.hop();
        added.detour = record.detour();
        added.name = record.name().toString();
        added.loads = record.name() == StepName.RESCUE ? loads : null;
        return added;
    }
}
