package calmstep.service.runs;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.path.Hop;
import calmstep.core.path.PathAnswer;
import calmstep.core.plan.PathBook;
import calmstep.core.plan.Target;
import calmstep.core.plan.WayWanted;
import calmstep.core.step.Detour;
import calmstep.core.step.RescueImage;
import calmstep.core.step.StepName;
import calmstep.core.step.StepRecord;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitPlan;
import calmstep.core.step.UnitPlan.HopPlan;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import calmstep.service.shelf.Shelf;
import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
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
    private final Json json;
    private final Clock clock;

    DetourImages(
            Fleet fleet,
            UnitPlans plans,
            Catalogues catalogues,
            Shelf shelf,
            StepEvidence evidence,
            Json json,
            Clock clock) {
        this.fleet = fleet;
        this.plans = plans;
        this.catalogues = catalogues;
        this.shelf = shelf;
        this.evidence = evidence;
        this.json = json;
        this.clock = clock;
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

    /**
     * How far a stuck unit could go back: over the hop at which it is stuck, for what ran before is
     * there; and on to what it ran before this night, as far as its catalogue opens the way.
     */
    WayBack wayBack(UnitRow unit, List<StepRow> rows) {
        UnitPlan plan = plans.of(unit);
        List<StepRecord> records = rows.stream().map(StepRow::record).toList();
        List<Integer> over = new ArrayList<>();
        String although = "";
        for (int ordinal : Detour.behind(records, firstOfNight(unit, records))) {
            boolean fails = Detour.stuck(records).filter(s -> s.hop() == ordinal).isPresent();
            Optional<String> lacking = whyNothingIsProven(unit, rows, ordinal);
            Optional<String> closed =
                    lacking.isPresent()
                            ? Optional.empty()
                            : whyNotOpen(unit, plan.hop(ordinal).hop());
            Optional<String> bars = lacking.or(() -> closed.filter(_ -> !fails));
            if (bars.isPresent()) {
                return over.isEmpty()
                        ? new WayBack(over, bars.get())
                        : wayBack(plan, over, although + ", and no farther: " + bars.get());
            }
            although = closed.map(", although "::concat).orElse(although);
            over.add(ordinal);
        }
        return over.isEmpty() ? new WayBack(over, "") : wayBack(plan, over, although);
    }

    private static WayBack wayBack(UnitPlan plan, List<Integer> over, String limits) {
        List<String> stops = over.stream().map(hop -> plan.hop(hop).hop().from()).toList();
        String by = String.join(", ", stops.subList(0, stops.size() - 1));
        return new WayBack(
                over,
                "to %s%s%s"
                        .formatted(
                                stops.getLast(), by.isEmpty() ? "" : " by way of " + by, limits));
    }

    /** What its window was for begins with this hop. */
    private int firstOfNight(UnitRow unit, List<StepRecord> records) {
        int at = Detour.stuck(records).map(StepRecord::hop).orElse(1);
        List<Turn> turns = json.read(unit.turns, Runs.TURNS);
        return turns.stream()
                .filter(turn -> at >= turn.firstHop() && at <= turn.lastHop())
                .flatMap(own -> turns.stream().filter(turn -> turn.closes().equals(own.closes())))
                .mapToInt(Turn::firstHop)
                .min()
                .orElse(1);
    }

    private Optional<String> whyNothingIsProven(UnitRow unit, List<StepRow> rows, int hop) {
        try {
            back(unit, rows, hop);
            return Optional.empty();
        } catch (Refusal refused) {
            return Optional.of(String.valueOf(refused.getMessage()));
        }
    }

    /** Empty where its catalogue opens the way down over a hop of the system. */
    private Optional<String> whyNotOpen(UnitRow unit, Hop hop) {
        Fleet.Known known = fleet.require(unit.name);
        Catalogue catalogue = catalogues.find(known.device().family()).orElseThrow();
        Map<String, String> runs = new TreeMap<>(known.device().runs(known.reading()));
        runs.put(Catalogue.SYSTEM, hop.to());
        LocalDate today = LocalDate.ofInstant(clock.instant(), ZoneOffset.UTC);
        boolean opens =
                new PathBook(WayWanted.BEST.prefer(), today)
                                        .look(
                                                known.device(),
                                                runs,
                                                catalogue,
                                                new Target.Exactly(hop.from()))
                                        .answer()
                                        .orElse(null)
                                instanceof PathAnswer.Found found
                        && found.best().hops().size() == 1;
        return opens
                ? Optional.empty()
                : Optional.of(
                        "its catalogue opens no way from %s to %s".formatted(hop.to(), hop.from()));
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
