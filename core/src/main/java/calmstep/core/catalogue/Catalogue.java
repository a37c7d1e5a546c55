package calmstep.core.catalogue;

import calmstep.core.version.Version;
import calmstep.core.version.VersionScheme;
import java.time.Duration;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.stream.Stream;

/**
 * The releases of one family.
 *
 * @param family short name, for example {@code osmer-r6}
 * @param title name for people
 * @param issued date of this edition; a newer edition replaces an older one
 * @param schemes version scheme of each component
 * @param outside components that stand beside the device and are never moved from here, such as its
 *     management software
 * @param bytesPerSecond usual rate at which a device of this family copies an image
 * @param grouping how members of one unit hang together; empty for a family of single devices
 * @param dependents how devices that take their firmware from it follow it; empty for a family
 *     without any
 * @param giveUpAfter when a device that does not come back after a restart is given up
 */
public record Catalogue(
        String family,
        String title,
        LocalDate issued,
        SortedMap<String, VersionScheme> schemes,
        Set<String> outside,
        long bytesPerSecond,
        Duration giveUpAfter,
        List<Release> releases,
        List<MovementRule> rules,
        List<Effect> effects,
        List<SideBySide> sideBySide,
        Optional<Grouping> grouping,
        Optional<Dependents> dependents,
        List<Advisory> advisories) {
    /** The component whose release people mean when they name none. */
    public static final String SYSTEM = "system";

    public Catalogue {
        outside = Set.copyOf(outside);
        releases = List.copyOf(releases);
        rules = List.copyOf(rules);
        effects = List.copyOf(effects);
        sideBySide = List.copyOf(sideBySide);
        advisories = List.copyOf(advisories);
    }

    public Optional<Release> find(String component, Version version) {
        return releases.stream()
                .filter(r -> r.component().equals(component) && r.version().equals(version))
                .findFirst();
    }

    public VersionScheme systemScheme() {
        return schemes.getOrDefault(SYSTEM, VersionScheme.ANY);
    }

    /**
     * The release that the maker recommends: the newest of those so marked that are proven. One
     * that was marked and is early, a trial or withdrawn takes a person who names it.
     */
    public Optional<Release> recommended() {
        return newest(r -> r.recommended() && r.channel().isProven());
    }

    /** The general releases of the system, newest first. */
    public List<Release> general() {
        return releases.stream()
                .filter(r -> r.component().equals(SYSTEM) && r.channel() == Channel.GENERAL)
                .sorted(Comparator.comparing(Release::version).reversed())
                .toList();
    }

    public Optional<Advisory> findAdvisory(String id) {
        return advisories.stream().filter(a -> a.id().equals(id)).findFirst();
    }

    private Optional<Release> newest(java.util.function.Predicate<Release> wanted) {
        return releases.stream()
                .filter(r -> r.component().equals(SYSTEM))
                .filter(wanted)
                .max(Comparator.comparing(Release::version));
    }

    /**
     * The effect of installing a release: the first that speaks of it and of what ran before; a
     * family that states none is supposed to restart once and to be dark for five minutes.
     */
    public Effect effectOf(Release release, Optional<Version> before) {
        return statedEffectOf(release, before)
                .orElseGet(() -> Effect.supposed(release.component()));
    }

    /** Empty where the family states none: then {@link #effectOf} gives a guess. */
    public Optional<Effect> statedEffectOf(Release release, Optional<Version> before) {
        return effects.stream()
                .filter(
                        e ->
                                e.component().equals(release.component())
                                        && e.to().contains(release.version())
                                        && before.map(e.from()::contains).orElse(true))
                .findFirst();
    }

    /** The image of that exact name, with the release that it installs. */
    public Optional<PublishedImage> findImage(String fileName) {
        return images().filter(published -> published.image().fileName().equals(fileName))
                .findFirst();
    }

    /** The images that are published in an archive of that exact name. */
    public List<PublishedImage> imagesIn(String archiveName) {
        return images().filter(
                        published ->
                                published
                                        .image()
                                        .archive()
                                        .filter(a -> a.fileName().equals(archiveName))
                                        .isPresent())
                .toList();
    }

    private Stream<PublishedImage> images() {
        return releases.stream()
                .flatMap(
                        release ->
                                release.images().stream()
                                        .map(image -> new PublishedImage(release, image)));
    }

    /** An image and the release that it installs. */
    public record PublishedImage(Release release, FirmwareImage image) {}
}
