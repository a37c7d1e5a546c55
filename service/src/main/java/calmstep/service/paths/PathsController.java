package calmstep.service.paths;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.Reading;
import calmstep.core.path.Preference;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Fleet.Known;
import calmstep.service.paths.Paths.PathAnswerView;
import calmstep.service.problems.Refusal;
import io.swagger.v3.oas.annotations.Operation;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api")
class PathsController {
    private final Fleet fleet;
    private final Paths paths;

    PathsController(Fleet fleet, Paths paths) {
        this.fleet = fleet;
        this.paths = paths;
    }

    /**
     * A device at a glance.
     *
     * @param title    of the family, for people
     * @param standing {@code there}, {@code behind}, {@code must-stay}, {@code silent} or {@code unread}
     * @param way      releases on the way to the wanted one
     * @param toKnow   what a person should know, as sentences
     */
    record DeviceView(String name, String family, String title, String model, String revision, String serial, String site, String siteTitle, String zone, String role, String address,
            int port, String login, boolean entitled, String serves, String hostKey, String standing, @Nullable String runs, @Nullable String wanted, List<String> way,
            List<String> toKnow, @Nullable Instant readAt, Fleet.@Nullable Silent silent, @Nullable Reading reading) {}

    @GetMapping("/devices")
    @Operation(summary = "The fleet: who is behind the maker's recommendation, by how much, and who does not answer")
    List<DeviceView> devices() {
        return fleet.all().stream().map(this::view).toList();
    }

    @GetMapping("/devices/{name}")
    DeviceView device(@PathVariable String name) {
        return view(fleet.require(name));
    }

    private DeviceView view(Known known) {
        Device d = known.device();
        Optional<PathAnswerView> path = paths.towardsRecommended(known);
        List<String> way = path.flatMap(p -> Optional.ofNullable(p.best())).map(b -> b.hops().stream().map(HopView::to).toList()).orElse(List.of());
        return new DeviceView(d.name(), d.family(), path.map(PathAnswerView::title).orElse(d.family()), d.hardware().model(), d.hardware().revision(), d.serial(), d.site(), known.siteTitle(), known.zone(), d.role(),
                d.address(), d.port(), d.login(), d.entitled(), d.serves(), known.hostKey(), standing(known, path),
                known.reading().map(Reading::system).orElse(d.runs().get("system")), path.map(PathAnswerView::wanted).orElse(null), way, toKnow(known, path),
                known.reading().map(Reading::takenAt).orElse(null), known.silent().orElse(null), known.reading().orElse(null));
    }

    private static String standing(Known known, Optional<PathAnswerView> path) {
        if (known.silent().isPresent()) {
            return "silent";
        }
        if (known.reading().isEmpty()) {
            return "unread";
        }
        return path.map(PathAnswerView::outcome).map(outcome -> switch (outcome) {
            case "found" -> "behind";
            case "already-there" -> "there";
            default -> "must-stay";
        }).orElse("unread");
    }

    private static List<String> toKnow(Known known, Optional<PathAnswerView> path) {
        List<String> notes = new ArrayList<>();
        known.silent().ifPresent(s -> notes.add("no answer: " + s.seen()));
        known.reading().ifPresent(reading -> {
            if (reading.unsavedChanges()) {
                notes.add("unsaved changes");
            }
            if (!reading.boot().saved()) {
                notes.add("boot choice not saved");
            }
            if (!reading.boot().next().equals(reading.boot().running())) {
                notes.add("next image is not the running one");
            }
        });
        path.ifPresent(p -> notes.addAll(p.obstacles()));
        return notes;
    }

    @GetMapping("/paths")
    @Operation(summary = "How a device gets to a release or a policy's choice, with reasons and alternatives")
    PathAnswerView path(@RequestParam String device, @RequestParam(defaultValue = "recommended") String to,
            @RequestParam(defaultValue = "fewest-restarts") String prefer) {
        return paths.answer(fleet.require(device), to, preference(prefer));
    }

    private static Preference preference(String text) {
        return switch (text) {
            case "fewest-restarts" -> Preference.FEWEST_RESTARTS;
            case "shortest-dark" -> Preference.SHORTEST_DARK;
            case "proven" -> Preference.PROVEN;
            default -> throw Refusal.wrong("Expected fewest-restarts, shortest-dark or proven, saw \"%s\".".formatted(text));
        };
    }
}
