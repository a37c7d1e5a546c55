package calmstep.service.paths;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Device;
import calmstep.core.path.Obstacle;
import calmstep.core.path.Path;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.Preference;
import calmstep.core.plan.PathFor;
import calmstep.core.plan.Target;
import calmstep.core.version.Version;
import calmstep.service.fleet.Fleet.Known;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
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
        static PathView of(Path path) {
            return new PathView(path.hops().stream().map(HopView::of).toList(), path.cost().restarts(), path.cost().darkSeconds(), path.cost().bytes());
        }
    }

    /**
     * @param outcome          {@code found}, {@code already-there} or {@code refused}
     * @param obstacles        what stands in the way, as sentences
     * @param highestReachable the newest release within reach today; null when there is none
     */
    record PathAnswerView(String device, String family, String title, String revision, String site, String runs, String wanted, String policy,
            @Nullable Instant readAt, String outcome, @Nullable PathView best, List<PathView> alternatives, List<String> obstacles, @Nullable String highestReachable) {}

    PathAnswerView answer(Known known, String policy, Preference preference) {
        Catalogue catalogue = catalogues.find(known.device().family()).orElseThrow(() -> Refusal.conflict(
                "No catalogue of the family %s is here. Import its catalogue file first.".formatted(known.device().family())));
        Map<String, String> runs = runs(known);
        if (runs.isEmpty()) {
            throw Refusal.conflict("%s was never read, so nobody knows what it runs. Read it first.".formatted(known.device().name()));
        }
        Version wanted = wanted(policy, catalogue);
        PathAnswer answer = PathFor.answer(known.device(), runs, catalogue, wanted, preference, LocalDate.ofInstant(clock.instant(), ZoneOffset.UTC));
        return view(known, catalogue, runs, wanted, policy, answer);
    }

    private static Version wanted(String policy, Catalogue catalogue) {
        try {
            return Target.parse(policy).in(catalogue).orElseThrow(() -> Refusal.conflict(
                    "The catalogue of %s has no release for \"%s\". Name a release, or another policy.".formatted(catalogue.title(), policy)));
        } catch (IllegalArgumentException malformed) {
            throw Refusal.wrong(malformed.getMessage() + " Policies are: recommended, newest-general.");
        }
    }

    private static Map<String, String> runs(Known known) {
        return known.reading().<Map<String, String>>map(r -> r.components()).orElse(known.device().runs());
    }

    private static PathAnswerView view(Known known, Catalogue catalogue, Map<String, String> runs, Version wanted, String policy, PathAnswer answer) {
        Device device = known.device();
        Instant readAt = known.reading().map(r -> r.takenAt()).orElse(null);
        String running = runs.getOrDefault(Catalogue.SYSTEM, "");
        return switch (answer) {
            case PathAnswer.Found(Path best, List<Path> alternatives) -> new PathAnswerView(device.name(), device.family(), catalogue.title(),
                    device.hardware().revision(), known.siteTitle(), running, wanted.text(), policy, readAt, "found", PathView.of(best),
                    alternatives.stream().map(PathView::of).toList(), List.of(), null);
            case PathAnswer.AlreadyThere(String there) -> new PathAnswerView(device.name(), device.family(), catalogue.title(), device.hardware().revision(),
                    known.siteTitle(), there, wanted.text(), policy, readAt, "already-there", null, List.of(), List.of(), null);
            case PathAnswer.Refused(List<Obstacle> obstacles, Optional<String> highest) -> new PathAnswerView(device.name(), device.family(), catalogue.title(),
                    device.hardware().revision(), known.siteTitle(), running, wanted.text(), policy, readAt, "refused", null, List.of(),
                    obstacles.stream().map(Obstacle::sentence).toList(), highest.orElse(null));
        };
    }

    /** As {@link #answer} for the maker's recommendation; empty where there is no catalogue, no reading, or no such release. */
    Optional<PathAnswerView> towardsRecommended(Known known) {
        boolean possible = !runs(known).isEmpty() && catalogues.find(known.device().family()).flatMap(Catalogue::recommended).isPresent();
        return possible ? Optional.of(answer(known, "recommended", Preference.FEWEST_RESTARTS)) : Optional.empty();
    }
}
