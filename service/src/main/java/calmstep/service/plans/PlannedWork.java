package calmstep.service.plans;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.plan.Draft;
import calmstep.core.plan.Nights;
import calmstep.core.plan.NightsView;
import calmstep.core.plan.Start;
import calmstep.core.plan.Timetable;
import calmstep.core.step.Digests;
import calmstep.core.step.UnitPlan;
import calmstep.core.wave.Wishes;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import calmstep.service.shelf.Shelf;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What others need of a plan: its images, and what a rehearsal plays. */
@Component
public class PlannedWork {
    private final StoredPlans stored;
    private final Fleet fleet;
    private final Shelf shelf;
    private final PlanNights planNights;
    private final Json json;
    private final Clock clock;

    PlannedWork(
            StoredPlans stored,
            Fleet fleet,
            Shelf shelf,
            PlanNights planNights,
            Json json,
            Clock clock) {
        this.stored = stored;
        this.fleet = fleet;
        this.shelf = shelf;
        this.planNights = planNights;
        this.json = json;
        this.clock = clock;
    }

    /** An image that a plan needs and the shelf does not have. */
    public record MissingImage(
            String fileName,
            String family,
            String release,
            long sizeBytes,
            @Nullable String archive,
            List<String> devices) {}

    /** File names of all images that a plan needs; units that were left out need none. */
    @Transactional(readOnly = true)
    public Set<String> images(String name) {
        return stored.decisions(stored.require(name)).units().stream()
                .flatMap(u -> u.hops().stream())
                .flatMap(h -> h.hop().images().stream())
                .map(FirmwareImage::fileName)
                .collect(Collectors.toSet());
    }

    /** The images that a plan still needs, by name; units that were left out need none. */
    @Transactional(readOnly = true)
    public List<MissingImage> missing(String name) {
        Set<String> onShelf = shelf.fileNames();
        Map<String, MissingImage> missing = new TreeMap<>();
        for (UnitPlan unit : stored.decisions(stored.require(name)).units()) {
            for (UnitPlan.HopPlan hop : unit.hops()) {
                hop.hop().images().stream()
                        .filter(image -> !onShelf.contains(image.fileName()))
                        .forEach(
                                image ->
                                        missing.merge(
                                                image.fileName(),
                                                new MissingImage(
                                                        image.fileName(),
                                                        fleet.require(unit.device())
                                                                .device()
                                                                .family(),
                                                        hop.hop().to(),
                                                        image.sizeBytes(),
                                                        image.archive()
                                                                .map(
                                                                        FirmwareImage.Archive
                                                                                ::fileName)
                                                                .orElse(null),
                                                        List.of(unit.device())),
                                                (known, more) ->
                                                        new MissingImage(
                                                                known.fileName(),
                                                                known.family(),
                                                                known.release(),
                                                                known.sizeBytes(),
                                                                known.archive(),
                                                                Stream.concat(
                                                                                known
                                                                                        .devices()
                                                                                        .stream(),
                                                                                more
                                                                                        .devices()
                                                                                        .stream())
                                                                        .toList())));
            }
        }
        return List.copyOf(missing.values());
    }

    @Transactional(readOnly = true)
    public Version version(String name) {
        PlanRow row = stored.require(name);
        return new Version(
                row.id(), Digests.sha256(json.write(stored.decisions(row).units()) + row.nights));
    }

    /**
     * The plan as a run would carry it out, whatever its state; one that has no nights is laid out
     * as if it began at once. Nothing is changed.
     */
    @Transactional(readOnly = true)
    public ToRehearse toRehearse(String name) {
        PlanRow row = stored.require(name);
        List<UnitPlan> units = stored.decisions(row).units();
        Optional<Nights> own = stored.nightsOf(row);
        Start start = own.isPresent() ? StoredPlans.startOf(row) : new Start.Now();
        return new ToRehearse(
                units,
                clock.instant(),
                own.or(() -> planNights.workedOut(units, stored.wishesOf(row), start))
                        .flatMap(
                                nights ->
                                        planNights
                                                .timetable(nights, units, start, 1)
                                                .map(
                                                        timetable ->
                                                                played(
                                                                        timetable, row, nights,
                                                                        start))));
    }

    private ToRehearse.Played played(Timetable timetable, PlanRow row, Nights nights, Start start) {
        return new ToRehearse.Played(
                nightsView(row, stored.draftOf(row), nights, stored.wishesOf(row), start),
                timetable);
    }

    /**
     * A plan as it is now: {@code sha256} is another one as soon as other units, or the same in
     * other nights, are to be done.
     */
    public record Version(long planId, String sha256) {}

    /**
     * What a rehearsal of a plan plays.
     *
     * @param now moment that the timetable is for
     * @param played its nights with what a run would keep to; empty where it changes nothing
     */
    public record ToRehearse(List<UnitPlan> units, Instant now, Optional<Played> played) {
        public record Played(NightsView nights, Timetable timetable) {}
    }

    private NightsView nightsView(
            PlanRow row, Draft draft, Nights nights, Wishes wishes, Start start) {
        return planNights.view(
                row.name, nights, wishes, start, draft.units(), stored.decisions(row).leftOut());
    }
}
