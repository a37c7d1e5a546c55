package calmstep.service.paths;

import calmstep.core.catalogue.Advisory;
import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Release;
import calmstep.core.fleet.Ailment;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.path.Preference;
import calmstep.core.plan.Exposure;
import calmstep.core.plan.PathBook;
import calmstep.core.select.DeviceTexts;
import calmstep.core.select.Field;
import calmstep.core.select.Selection;
import calmstep.core.version.Version;
import calmstep.service.fleet.Chosen;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Fleet.Known;
import calmstep.service.paths.Paths.PathAnswerView;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import org.springframework.stereotype.Component;

/** Devices as they stand against a policy: what selections can ask of, and what lists show. */
@Component
class Glances implements Chosen {
    static final String USUAL_POLICY = "recommended";

    private final Fleet fleet;
    private final Paths paths;
    private final Catalogues catalogues;
    private final Clock clock;

    Glances(Fleet fleet, Paths paths, Catalogues catalogues, Clock clock) {
        this.clock = clock;
        this.fleet = fleet;
        this.paths = paths;
        this.catalogues = catalogues;
    }

    /**
     * @param runs release by component: as it was read, else as the inventory says
     * @param behindBy how many general releases lie between what it runs and what is wanted, the
     *     wanted one counted
     */
    record Glance(
            Known known,
            Optional<Catalogue> catalogue,
            Map<String, String> runs,
            Optional<PathAnswerView> path,
            int behindBy,
            List<Advisory> exposed) {
        String standing() {
            if (known.silent().isPresent()) {
                return "silent";
            }
            return path.map(PathAnswerView::outcome)
                    .map(
                            outcome ->
                                    switch (outcome) {
                                        case "found" -> "behind";
                                        case "already-there" -> "there";
                                        default -> "must-stay";
                                    })
                    .orElse(runs.isEmpty() ? "unread" : "no-target");
        }

        String title() {
            return catalogue.map(Catalogue::title).orElse(known.device().family());
        }
    }

    /** The newest catalogues, asked for once for a whole list. */
    private final class Shelfmarks {
        private final Map<String, Optional<Catalogue>> known = new TreeMap<>();

        Optional<Catalogue> of(String family) {
            return known.computeIfAbsent(family, catalogues::find);
        }
    }

    List<Glance> select(String where, String policy) {
        return select(where, policy, Preference.FEWEST_RESTARTS);
    }

    List<Glance> select(String where, String policy, Preference preference) {
        Selection selection = selection(where);
        PathBook book = paths.book(preference);
        Shelfmarks shelfmarks = new Shelfmarks();
        Instant now = clock.instant();
        return fleet.all().stream()
                .map(known -> glance(known, policy, book, shelfmarks::of))
                .filter(glance -> selection.holds(Selection.shown(texts(glance, now))))
                .toList();
    }

    Glance one(String name, String policy) {
        return glance(
                fleet.require(name),
                policy,
                paths.book(Preference.FEWEST_RESTARTS),
                catalogues::find);
    }

    @Override
    public List<String> names(String where) {
        return select(where, USUAL_POLICY).stream()
                .map(glance -> glance.known().device().name())
                .toList();
    }

    private static Selection selection(String where) {
        try {
            return Selection.parse(where);
        } catch (IllegalArgumentException malformed) {
            throw Refusal.wrong(
                    "The selection \"%s\" cannot be read. %s"
                            .formatted(where, malformed.getMessage()));
        }
    }

    private Glance glance(
            Known known,
            String policy,
            PathBook book,
            Function<String, Optional<Catalogue>> shelfmarks) {
        Device device = known.device();
        Map<String, String> runs = device.runs(known.reading());
        Optional<Catalogue> catalogue = shelfmarks.apply(device.family());
        Optional<PathAnswerView> path = towards(catalogue, runs, policy, known, book);
        return new Glance(
                known,
                catalogue,
                runs,
                path,
                behindBy(catalogue, path),
                catalogue.map(c -> Exposure.of(device, runs, c)).orElse(List.of()));
    }

    private Optional<PathAnswerView> towards(
            Optional<Catalogue> catalogue,
            Map<String, String> runs,
            String policy,
            Known known,
            PathBook book) {
        Optional<PathAnswerView> path =
                catalogue
                        .filter(_ -> !runs.isEmpty())
                        .flatMap(c -> paths.towards(policy, known, runs, c, book));
        return path;
    }

    private static int behindBy(Optional<Catalogue> catalogue, Optional<PathAnswerView> path) {
        if (catalogue.isEmpty() || path.isEmpty() || path.get().outcome().equals("already-there")) {
            return 0;
        }
        try {
            Version running = catalogue.get().systemScheme().parse(path.get().runs());
            Version wanted = catalogue.get().systemScheme().parse(path.get().wanted());
            return (int)
                    catalogue.get().general().stream()
                            .map(Release::version)
                            .filter(v -> v.compareTo(running) > 0 && v.compareTo(wanted) <= 0)
                            .count();
        } catch (IllegalArgumentException unreadable) {
            return 0;
        }
    }

    /** What else is so of a device, each as a word that a selection may ask for. */
    private static List<String> is(Glance glance, Instant now) {
        Known known = glance.known();
        List<String> words = new ArrayList<>();
        addIf(known.device().entitled(), "entitled", words);
        addIf(known.silent().isPresent(), "silent", words);
        addIf(!known.discrepancies().isEmpty(), "not-as-written", words);
        known.reading().ifPresent(reading -> addHealth(reading, now, words));
        return words;
    }

    private static void addHealth(Reading reading, Instant now, List<String> words) {
        List<Ailment> ailments = Ailment.of(reading, now);
        addIf(!ailments.isEmpty(), "unhealthy", words);
        addIf(
                ailments.stream().anyMatch(Ailment.OutOfStep.class::isInstance),
                "out-of-sync",
                words);
        addIf(reading.unsavedChanges(), "unsaved", words);
        addIf(
                !BootChoice.isSame(reading.boot().next(), reading.boot().running()),
                "next-differs",
                words);
    }

    private static void addIf(boolean so, String word, List<String> words) {
        if (so) {
            words.add(word);
        }
    }

    private static Map<Field, List<String>> texts(Glance glance, Instant now) {
        Map<Field, List<String>> texts =
                DeviceTexts.of(
                        glance.known().device(),
                        glance.title(),
                        glance.known().siteTitle(),
                        glance.runs());
        texts.put(Field.WANTED, glance.path().map(p -> List.of(p.wanted())).orElse(List.of()));
        texts.put(Field.STANDING, List.of(glance.standing()));
        texts.put(Field.EXPOSED, glance.exposed().stream().map(Advisory::id).toList());
        texts.put(Field.IS, is(glance, now));
        texts.put(Field.AGE, age(glance, now));
        return texts;
    }

    /** In seconds; of one that was never read there is none. */
    private static List<String> age(Glance glance, Instant now) {
        return glance.known().reading().stream()
                .map(read -> Duration.between(read.takenAt(), now).toSeconds())
                .map(String::valueOf)
                .toList();
    }
}
