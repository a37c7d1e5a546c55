package calmstep.core.catalogue;

import calmstep.core.version.Version;
import calmstep.core.version.VersionScheme;
import java.time.Duration;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.SortedMap;

/**
 * The releases of one family.
 *
 * @param family         short name, for example {@code osmer-r6}
 * @param title          name for people
 * @param issued         date of this edition; a newer edition replaces an older one
 * @param schemes        version scheme of each component
 * @param bytesPerSecond usual rate at which a device of this family copies an image
 * @param giveUpAfter    when a device that does not come back after a restart is given up
 */
public record Catalogue(
        String family,
        String title,
        LocalDate issued,
        SortedMap<String, VersionScheme> schemes,
        long bytesPerSecond,
        Duration giveUpAfter,
        List<Release> releases,
        List<MovementRule> rules,
        List<Effect> effects) {
    /** The component whose release people mean when they name none. */
    public static final String SYSTEM = "system";

    public Catalogue {
        releases = List.copyOf(releases);
        rules = List.copyOf(rules);
        effects = List.copyOf(effects);
    }

    public Optional<Release> find(String component, Version version) {
        return releases.stream().filter(r -> r.component().equals(component) && r.version().equals(version)).findFirst();
    }

    public VersionScheme systemScheme() {
        return schemes.getOrDefault(SYSTEM, VersionScheme.ANY);
    }

    /** The release that the maker recommends: the newest of those so marked that are not withdrawn. */
    public Optional<Release> recommended() {
        return newest(r -> r.recommended() && r.channel() != Channel.WITHDRAWN);
    }

    public Optional<Release> newestGeneral() {
        return newest(r -> r.channel() == Channel.GENERAL);
    }

    private Optional<Release> newest(java.util.function.Predicate<Release> wanted) {
        return releases.stream()
                .filter(r -> r.component().equals(SYSTEM))
                .filter(wanted)
                .max(Comparator.comparing(Release::version));
    }

    /** The effect of installing a release; a family that states none restarts once and is dark for five minutes. */
    public Effect effectOf(Release release) {
        return effects.stream()
                .filter(e -> e.component().equals(release.component()) && e.to().contains(release.version()))
                .findFirst()
                .orElseGet(() -> new Effect(release.component(), calmstep.core.version.VersionRange.ANY, 1, Duration.ofMinutes(5),
                        Effect.Configuration.KEPT));
    }

    /** The image of that exact name, with the release that it installs. */
    public Optional<PublishedImage> findImage(String fileName) {
        return releases.stream()
                .flatMap(release -> release.images().stream().map(image -> new PublishedImage(release, image)))
                .filter(published -> published.image().fileName().equals(fileName))
                .findFirst();
    }

    /** An image and the release that it installs. */
    public record PublishedImage(Release release, FirmwareImage image) {}
}
