package calmstep.service.runs;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.step.RescueImage;
import calmstep.core.step.StepName;
import calmstep.core.step.UnitPlan.HopPlan;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import calmstep.service.shelf.Shelf;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** The images that a detour takes: what ran before, and what a device can be started from. */
@Component
class DetourImages {
    private final Fleet fleet;
    private final UnitPlans plans;
    private final Catalogues catalogues;
    private final Shelf shelf;
    private final StepEvidence evidence;

    DetourImages(
            Fleet fleet,
            UnitPlans plans,
            Catalogues catalogues,
            Shelf shelf,
            StepEvidence evidence) {
        this.fleet = fleet;
        this.plans = plans;
        this.catalogues = catalogues;
        this.shelf = shelf;
        this.evidence = evidence;
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

    /**
     * @param asked the image that a person names; empty for the best one on the shelf
     * @throws Refusal where the shelf holds none
     */
    FirmwareImage rescueImage(UnitRow unit, int hop, List<StepRow> rows, Optional<String> asked) {
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
}
