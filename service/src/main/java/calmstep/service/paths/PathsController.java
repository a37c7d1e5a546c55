package calmstep.service.paths;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Ailment;
import calmstep.core.fleet.Components;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Discrepancy;
import calmstep.core.fleet.Part;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Way;
import calmstep.core.path.Preference;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Fleet.Known;
import calmstep.service.paths.Glances.Glance;
import calmstep.service.paths.Paths.PathAnswerView;
import calmstep.service.problems.Refusal;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api")
class PathsController {
    private final Fleet fleet;
    private final Paths paths;
    private final Glances glances;
    private final Exposures exposures;
    private final Clock clock;

    PathsController(Fleet fleet, Paths paths, Glances glances, Exposures exposures, Clock clock) {
        this.clock = clock;
        this.fleet = fleet;
        this.paths = paths;
        this.glances = glances;
        this.exposures = exposures;
    }

    /** An advisory that a device is exposed to. */
    record ExposureView(String id, String name, String severity) {}

    /**
     * A device at a glance.
     *
     * @param title of the family, for people
     * @param standing {@code there}, {@code behind}, {@code must-stay}, {@code silent}, {@code
     *     no-target} or {@code unread}
     * @param via jump hosts on the way to it
     * @param console its line at a console server; null where it has none there
     * @param runs the release of its system: as it was read, else as the inventory says
     * @param asWritten whether that is what the inventory says
     * @param wanted what the policy wants of it
     * @param way releases on the way to the wanted one
     * @param behindBy general releases between what it runs and what is wanted
     * @param toKnow what a person should know, as sentences
     * @param discrepancies what the inventory says of it and the device says otherwise; here the
     *     device's word stands
     * @param reading null in lists
     */
    record DeviceView(
            String name,
            String family,
            String title,
            String model,
            String revision,
            String region,
            String brand,
            List<String> features,
            String serial,
            String site,
            String siteTitle,
            String zone,
            String role,
            List<String> tags,
            String address,
            int port,
            List<String> logins,
            List<String> via,
            @Nullable String console,
            List<String> oldAlgorithms,
            boolean entitled,
            String serves,
            String hostKey,
            String standing,
            @Nullable String runs,
            boolean asWritten,
            @Nullable String wanted,
            List<String> way,
            int behindBy,
            List<ExposureView> exposed,
            List<String> toKnow,
            List<Discrepancy> discrepancies,
            @Nullable Instant readAt,
            Fleet.@Nullable Silent silent,
            List<Part> parts,
            @Nullable Reading reading) {}

    @GetMapping("/devices")
    @Operation(
            summary =
                    "The devices that a selection means, against a policy: who is behind and by how"
                            + " much, who is exposed, and who does not answer")
    List<DeviceView> devices(
            @RequestParam(defaultValue = "") String where,
            @RequestParam(defaultValue = Glances.USUAL_POLICY) String policy) {
        return glances.select(where, policy).stream().map(glance -> view(glance, false)).toList();
    }

    @GetMapping("/devices/{name}")
    DeviceView device(
            @PathVariable String name,
            @RequestParam(defaultValue = Glances.USUAL_POLICY) String policy) {
        return view(glances.one(name, policy), true);
    }

    @PostMapping("/devices/{name}/as-read")
    @Operation(
            summary =
                    "Take over what a device said of itself where the inventory says otherwise:"
                            + " model, revision, region, brand, features, serial number, members")
    DeviceView asRead(@PathVariable String name, @RequestBody Why said, Principal who) {
        fleet.takeOverAsRead(name, said.why(), who.getName());
        return view(glances.one(name, Glances.USUAL_POLICY), true);
    }

    record Why(String why) {}

    @GetMapping("/advisories")
    @Operation(
            summary =
                    "The advisories, the worst first: which devices of a selection have the fault,"
                            + " and the smallest move out of it")
    List<Exposures.AdvisoryView> advisories(@RequestParam(defaultValue = "") String where) {
        return exposures.of(where);
    }

    private DeviceView view(Glance glance, boolean whole) {
        Known known = glance.known();
        Device d = known.device();
        List<String> way =
                glance.path()
                        .flatMap(p -> Optional.ofNullable(p.best()))
                        .map(b -> b.hops().stream().map(HopView::step).toList())
                        .orElse(List.of());
        return new DeviceView(
                d.name(),
                d.family(),
                glance.title(),
                d.hardware().model(),
                d.hardware().revision(),
                d.hardware().region(),
                d.hardware().brand(),
                List.copyOf(d.hardware().features()),
                d.serial(),
                d.site(),
                known.siteTitle(),
                known.zone(),
                d.role(),
                List.copyOf(d.tags()),
                d.address(),
                d.port(),
                d.logins(),
                d.way().via().stream().map(Way.Stop::toString).toList(),
                d.way().console().map(Way.Stop::toString).orElse(null),
                List.copyOf(d.way().oldAlgorithms()),
                d.entitled(),
                d.serves(),
                known.hostKey(),
                glance.standing(),
                glance.runs().get(Catalogue.SYSTEM),
                known.reading().isEmpty() && !glance.runs().isEmpty(),
                glance.path().map(PathAnswerView::wanted).orElse(null),
                way,
                glance.behindBy(),
                glance.exposed().stream()
                        .map(a -> new ExposureView(a.id(), a.title(), a.severity().toString()))
                        .toList(),
                toKnow(known, glance.path()),
                known.discrepancies(),
                known.reading().map(Reading::takenAt).orElse(null),
                known.silent().orElse(null),
                d.parts(),
                whole ? known.reading().orElse(null) : null);
    }

    private List<String> toKnow(Known known, Optional<PathAnswerView> path) {
        List<String> notes = new ArrayList<>();
        known.discrepancies().forEach(d -> notes.add(d.sentence()));
        known.silent().ifPresent(s -> notes.add("silent: " + s.seen()));
        known.reading().ifPresent(reading -> addUnsaved(reading, notes));
        known.reading()
                .map(reading -> Ailment.of(reading, clock.instant()))
                .orElse(List.of())
                .forEach(ailment -> notes.add(ailment.sentence()));
        path.ifPresent(p -> notes.addAll(p.obstacles()));
        return notes;
    }

    private static void addUnsaved(Reading reading, List<String> notes) {
        if (reading.unsavedChanges()) {
            notes.add("unsaved changes");
        }
        if (!reading.boot().saved()) {
            notes.add("boot choice not saved");
        }
        if (!reading.boot().next().equals(reading.boot().running())) {
            notes.add("next image is not the running one");
        }
    }

    @GetMapping("/paths")
    @Operation(
            summary =
                    "How a device gets to a release or a policy's choice, with reasons and"
                            + " alternatives: a device of the fleet by its name, or one that nobody"
                            + " owns by its family, hardware and what it runs (a release, or"
                            + " component:release,component:release)")
    PathAnswerView path(
            @RequestParam(defaultValue = "") String device,
            @RequestParam(defaultValue = "recommended") String to,
            @RequestParam(defaultValue = "fewest-restarts") String prefer,
            @RequestParam(defaultValue = "") String family,
            @RequestParam(defaultValue = "") String model,
            @RequestParam(defaultValue = "") String revision,
            @RequestParam(defaultValue = "") String region,
            @RequestParam(defaultValue = "") String brand,
            @RequestParam(defaultValue = "") List<String> features,
            @RequestParam(defaultValue = "true") boolean entitled,
            @RequestParam(defaultValue = "") String runs) {
        if (device.isEmpty() == family.isEmpty()) {
            throw Refusal.wrong(
                    "Expected the name of a device, or the family and the release of one that"
                            + " nobody owns.");
        }
        Known known =
                device.isEmpty()
                        ? Paths.imagined(
                                family,
                                new Hardware(model, revision, region, brand, Set.copyOf(features)),
                                entitled,
                                Components.parse(runs))
                        : fleet.require(device);
        return paths.answer(known, to, paths.book(preference(prefer)));
    }

    @GetMapping("/paths/selected")
    @Operation(
            summary =
                    "The paths of a selection, as far as their families are known; devices that"
                        + " were never read and of which nobody wrote down what they run are left"
                        + " out")
    List<PathAnswerView> paths(
            @RequestParam(defaultValue = "") String where,
            @RequestParam(defaultValue = "recommended") String to,
            @RequestParam(defaultValue = "fewest-restarts") String prefer) {
        return glances.select(where, to, preference(prefer)).stream()
                .flatMap(glance -> glance.path().stream())
                .toList();
    }

    private static Preference preference(String text) {
        return Refusal.reading(() -> Preference.parse(text));
    }
}
