package calmstep.service.paths;

import calmstep.core.catalogue.Advisory;
import calmstep.core.path.Preference;
import calmstep.core.plan.PathBook;
import calmstep.core.plan.Target;
import calmstep.service.paths.Glances.Glance;
import calmstep.service.paths.Paths.PathAnswerView;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** Who is exposed to which advisory, and the smallest move out of it. */
@Component
class Exposures {
    private final Glances glances;
    private final Paths paths;

    Exposures(Glances glances, Paths paths) {
        this.glances = glances;
        this.paths = paths;
    }

    /**
     * A device that has a published fault.
     *
     * @param cure the release that takes it out with the smallest move; null when none can be
     *     reached
     * @param way the releases on the way there
     * @param obstacles what stands in the way where there is none
     */
    record ExposedView(
            String device,
            String siteTitle,
            String runs,
            @Nullable String cure,
            List<String> way,
            int restarts,
            long darkSeconds,
            List<String> obstacles) {}

    record AdvisoryView(
            String id,
            String family,
            String title,
            String name,
            String severity,
            LocalDate published,
            String sentence,
            List<ExposedView> devices) {}

    /** The worst advisories first, then the ones with the most devices. */
    List<AdvisoryView> of(String where) {
        PathBook book = paths.book(Preference.FEWEST_RESTARTS);
        List<Glance> all = glances.select(where, Glances.USUAL_POLICY);
        return all.stream()
                .flatMap(g -> g.catalogue().stream())
                .distinct()
                .flatMap(
                        catalogue ->
                                catalogue.advisories().stream()
                                        .map(
                                                advisory ->
                                                        new Ranked(
                                                                advisory.severity(),
                                                                new AdvisoryView(
                                                                        advisory.id(),
                                                                        catalogue.family(),
                                                                        catalogue.title(),
                                                                        advisory.title(),
                                                                        advisory.severity()
                                                                                .toString(),
                                                                        advisory.published(),
                                                                        advisory.sentence(),
                                                                        all.stream()
                                                                                .filter(
                                                                                        g ->
                                                                                                g.catalogue()
                                                                                                                .equals(
                                                                                                                        Optional
                                                                                                                                .of(
                                                                                                                                        catalogue))
                                                                                                        && g.exposed()
                                                                                                                .contains(
                                                                                                                        advisory))
                                                                                .map(
                                                                                        g ->
                                                                                                exposed(
                                                                                                        g,
                                                                                                        advisory,
                                                                                                        book))
                                                                                .toList()))))
                .sorted(
                        Comparator.comparing(Ranked::severity)
                                .reversed()
                                .thenComparing(r -> -r.view().devices().size())
                                .thenComparing(r -> r.view().id()))
                .map(Ranked::view)
                .toList();
    }

    private record Ranked(Advisory.Severity severity, AdvisoryView view) {}

    private ExposedView exposed(Glance glance, Advisory advisory, PathBook book) {
        Optional<PathAnswerView> path = pathOut(advisory, glance, book);
        Optional<Paths.PathView> best = path.flatMap(p -> Optional.ofNullable(p.best()));
        return new ExposedView(
                glance.known().device().name(),
                glance.known().siteTitle(),
                glance.runs().getOrDefault(advisory.component(), ""),
                best.isPresent() ? path.get().wanted() : null,
                best.map(b -> b.hops().stream().map(HopView::step).toList()).orElse(List.of()),
                best.map(Paths.PathView::restarts).orElse(0),
                best.map(Paths.PathView::darkSeconds).orElse(0L),
                best.isPresent()
                        ? List.of()
                        : path.map(PathAnswerView::obstacles)
                                .orElse(List.of("no release without it is published")));
    }

    private Optional<PathAnswerView> pathOut(Advisory advisory, Glance glance, PathBook book) {
        Optional<PathAnswerView> path =
                paths.towards(
                        new Target.Clears(advisory.id()).words(),
                        glance.known(),
                        glance.runs(),
                        glance.catalogue().orElseThrow(),
                        book);
        return path;
    }
}
