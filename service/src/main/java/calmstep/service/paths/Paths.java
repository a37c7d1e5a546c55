package calmstep.service.paths;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Device;
import calmstep.core.order.Outage;
import calmstep.core.order.UnitOrder;
import calmstep.core.path.Obstacle;
import calmstep.core.path.Path;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.Preference;
import calmstep.core.plan.PathBook;
import calmstep.core.plan.Target;
import calmstep.core.version.Version;
import calmstep.service.fleet.Fleet.Known;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** Path questions about devices of the fleet. */
@Component
class Paths {
    private final Catalogues catalogues;
    private final Clock clock;

    Paths(Catalogues catalogues, Clock clock) {
        this.catalogues = catalogues;
        this.clock = clock;
    }

    record PathView(List<HopView> hops, int restarts, long darkSeconds, long bytes) {
        static PathView of(Path path, Device device, Catalogue catalogue) {
            List<Duration> dark = Outage.ofEach(device, catalogue, path);
            return new PathView(
                    IntStream.range(0, dark.size())
                            .mapToObj(at -> HopView.of(path.hops().get(at), dark.get(at)))
                            .toList(),
                    path.cost().restarts(),
                    Outage.together(dark).toSeconds(),
                    path.cost().bytes());
        }
    }

    /**
     * @param outcome {@code found}, {@code already-there} or {@code refused}
     * @param byOlderOnes how far it gets by releases alone that are older; null when that is all
     *     the way, or nobody asked
     * @param chosenBy what its images are chosen by, and whose word each of that is
     * @param order the order inside a unit of several members; null for a single device
     * @param obstacles what stands in the way, as sentences
     * @param highestReachable the newest release within reach today; null when there is none
     */
    record PathAnswerView(
            String device,
            String family,
            String title,
            String revision,
            String site,
            String runs,
            List<KnownFact> chosenBy,
            String wanted,
            String policy,
            @Nullable Instant readAt,
            String outcome,
            @Nullable PathView best,
            List<PathView> alternatives,
            @Nullable OlderView byOlderOnes,
            @Nullable OrderView order,
            List<String> obstacles,
            @Nullable String highestReachable) {}

    /**
     * Something that images are chosen by.
     *
     * @param what model, revision, region, brand or features
     * @param source {@value #SHOWN} by the device, or {@value #WRITTEN} in the inventory
     */
    record KnownFact(String what, String value, String source) {
        static final String SHOWN = "shown";
        static final String WRITTEN = "written";

        /** Those that somebody told; what nobody told is left out. */
        static List<KnownFact> of(Known known) {
            Map<String, String> written = facts(known.written().hardware());
            Map<String, String> shown =
                    known.reading()
                            .map(reading -> facts(reading.identity().hardware()))
                            .orElse(Map.of());
            return written.keySet().stream()
                    .map(
                            what ->
                                    fact(
                                            what,
                                            shown.getOrDefault(what, ""),
                                            written.getOrDefault(what, "")))
                    .filter(fact -> !fact.value().isEmpty())
                    .toList();
        }

        private static KnownFact fact(String what, String shown, String written) {
            return shown.isEmpty()
                    ? new KnownFact(what, written, WRITTEN)
                    : new KnownFact(what, shown, SHOWN);
        }

        private static Map<String, String> facts(Hardware hardware) {
            Map<String, String> facts = new LinkedHashMap<>();
            facts.put("model", hardware.model());
            facts.put("revision", hardware.revision());
            facts.put("region", hardware.region());
            facts.put("brand", hardware.brand());
            facts.put("features", String.join(" and ", hardware.features()));
            return facts;
        }
    }

    /**
     * @param endsAt null when there is no way at all
     */
    record OlderView(int days, @Nullable String endsAt) {
        static @Nullable OlderView of(Optional<PathBook.ByOlderOnes> older) {
            return older.map(
                            o ->
                                    new OlderView(
                                            o.days(), o.endsAt().map(Version::text).orElse(null)))
                    .orElse(null);
        }
    }

    /** Questions of one moment: devices of one kind share their searches. */
    PathBook book(Preference preference) {
        return new PathBook(preference, LocalDate.ofInstant(clock.instant(), ZoneOffset.UTC));
    }

    PathAnswerView answer(Known known, String policy, PathBook book) {
        Catalogue catalogue =
                catalogues
                        .find(known.device().family())
                        .orElseThrow(
                                () ->
                                        Refusal.conflict(
                                                "No catalogue of the family %s is here. Import its catalogue file first."
                                                        .formatted(known.device().family())));
        Map<String, String> runs = runs(known);
        if (runs.isEmpty()) {
            throw Refusal.conflict(
                    "%s was never read, so nobody knows what it runs. Read it first."
                            .formatted(known.device().name()));
        }
        PathBook.Entry entry;
        try {
            entry = book.look(known.device(), runs, catalogue, Target.parse(policy));
        } catch (IllegalArgumentException malformed) {
            throw Refusal.wrong(
                    "%s Policies are: %s.".formatted(malformed.getMessage(), Target.POLICIES));
        }
        if (entry.answer().isEmpty()) {
            throw Refusal.conflict(
                    "The catalogue of %s has no release for \"%s\". Name a release, or another policy."
                            .formatted(catalogue.title(), policy));
        }
        return view(
                known,
                catalogue,
                runs,
                entry.wanted().map(Version::text).orElse(""),
                policy,
                entry.answer().get(),
                OlderView.of(
                        book.byOlderOnes(
                                known.device(), runs, catalogue, entry, PathBook.OLDER_DAYS)));
    }

    /** A device that nobody owns. */
    static Known imagined(
            String family, Hardware hardware, boolean entitled, Map<String, String> runs) {
        Device device = deviceLike(hardware, family, entitled, runs);
        return new Known(0, device, device, "", "UTC", "", Optional.empty(), Optional.empty());
    }

    private static Device deviceLike(
            Hardware hardware, String family, boolean entitled, Map<String, String> runs) {
        return new Device(
                hardware.model().isEmpty() ? family : hardware.model(),
                family,
                hardware,
                "",
                "",
                "",
                "",
                0,
                0,
                "",
                entitled,
                runs,
                "");
    }

    private static Map<String, String> runs(Known known) {
        return known.device().runs(known.reading());
    }

    private static PathAnswerView view(
            Known known,
            Catalogue catalogue,
            Map<String, String> runs,
            String wanted,
            String policy,
            PathAnswer answer,
            @Nullable OlderView older) {
        Device device = known.device();
        Instant readAt = known.reading().map(r -> r.takenAt()).orElse(null);
        String running = runs.getOrDefault(Catalogue.SYSTEM, "");
        Optional<PathAnswer.Found> found =
                Optional.of(answer)
                        .filter(PathAnswer.Found.class::isInstance)
                        .map(PathAnswer.Found.class::cast);
        return new PathAnswerView(
                device.name(),
                device.family(),
                catalogue.title(),
                device.hardware().revision(),
                known.siteTitle(),
                answer instanceof PathAnswer.AlreadyThere(String there) ? there : running,
                KnownFact.of(known),
                wanted,
                policy,
                readAt,
                outcome(answer),
                found.map(f -> PathView.of(f.best(), device, catalogue)).orElse(null),
                found.map(
                                f ->
                                        f.alternatives().stream()
                                                .map(p -> PathView.of(p, device, catalogue))
                                                .toList())
                        .orElse(List.of()),
                found.isPresent() ? older : null,
                found.flatMap(f -> UnitOrder.of(device, catalogue, f.best()))
                        .map(OrderView::of)
                        .orElse(null),
                answer instanceof PathAnswer.Refused(List<Obstacle> obstacles, var _)
                        ? obstacles.stream().map(Obstacle::sentence).toList()
                        : List.of(),
                answer instanceof PathAnswer.Refused(var _, Optional<String> highest)
                        ? highest.orElse(null)
                        : null);
    }

    private static String outcome(PathAnswer answer) {
        return switch (answer) {
            case PathAnswer.Found _ -> "found";
            case PathAnswer.AlreadyThere _ -> "already-there";
            case PathAnswer.Refused _ -> "refused";
        };
    }

    /** As {@link #answer}; empty where the policy comes to no release of the family. */
    Optional<PathAnswerView> towards(
            String policy,
            Known known,
            Map<String, String> runs,
            Catalogue catalogue,
            PathBook book) {
        try {
            PathBook.Entry entry = book.look(known.device(), runs, catalogue, Target.parse(policy));
            return entry.answer()
                    .map(
                            answer ->
                                    view(
                                            known,
                                            catalogue,
                                            runs,
                                            entry.wanted().map(Version::text).orElse(""),
                                            policy,
                                            answer,
                                            null));
        } catch (IllegalArgumentException notOfThisFamily) {
            return Optional.empty();
        }
    }
}
