package calmstep.core.catalogue;

import static calmstep.core.known.Known.known;

import calmstep.core.text.Complaints;
import calmstep.core.text.Spot;
import calmstep.core.version.Version;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * Checks a catalogue whose every line is right by itself: releases that nothing leads to, rules
 * that contradict each other, images that can never be used, parts without their counterpart.
 */
final class CatalogueCheck {
    private final Catalogue catalogue;
    private final Map<Object, Spot> spots;
    private final Complaints complaints;

    /**
     * @param spots where each release, image and rule stands, by identity
     */
    CatalogueCheck(Catalogue catalogue, Map<Object, Spot> spots, Complaints complaints) {
        this.catalogue = catalogue;
        this.spots = spots;
        this.complaints = complaints;
    }

    void check() {
        catalogue.rules().forEach(this::checkRule);
        for (Release release : catalogue.releases()) {
            if (release.channel() != Channel.WITHDRAWN && !release.images().isEmpty()) {
                checkReachable(release);
            }
            checkParts(release);
            release.images().forEach(image -> checkImage(release, image));
        }
    }

    private List<MovementRule> rules(Release release) {
        return catalogue.rules().stream()
                .filter(
                        r ->
                                r.component().equals(release.component())
                                        && r.to().contains(release.version()))
                .toList();
    }

    private void checkRule(MovementRule rule) {
        if (catalogue.releases().stream()
                .noneMatch(
                        r ->
                                r.component().equals(rule.component())
                                        && rule.to().contains(r.version()))) {
            complaints.add(
                    known(spots, rule),
                    "The rule %s speaks of no release of this catalogue: none of %s is in \"%s\"."
                            .formatted(rule.id(), rule.component(), rule.to()));
        }
    }

    /**
     * Upwards, from any release of its component that is older; hardware and entitlement are not
     * looked at.
     */
    private void checkReachable(Release release) {
        List<MovementRule> from =
                rules(release).stream()
                        .filter(r -> r.opens().isEmpty() && r.guard() instanceof Guard.From)
                        .toList();
        List<Version> older =
                catalogue.releases().stream()
                        .filter(r -> r.component().equals(release.component()))
                        .map(Release::version)
                        .filter(v -> v.compareTo(release.version()) < 0)
                        .toList();
        if (from.isEmpty()
                || older.isEmpty()
                || older.stream()
                        .anyMatch(
                                v ->
                                        from.stream()
                                                .allMatch(
                                                        r ->
                                                                ((Guard.From) r.guard())
                                                                        .range()
                                                                        .contains(v)))) {
            return;
        }
        String why =
                from.size() == 1
                        ? "the rule %s leaves none".formatted(from.getFirst().id())
                        : "the rules %s contradict each other"
                                .formatted(
                                        from.stream()
                                                .map(MovementRule::id)
                                                .collect(Collectors.joining(" and ")));
        complaints.add(
                known(spots, release),
                "The release %s of %s can be reached from no older release: %s."
                        .formatted(release.version(), release.component(), why));
    }

    /** The parts of one release must be the same for each variant, or a device would get a half. */
    private void checkParts(Release release) {
        Set<String> parts =
                release.images().stream()
                        .map(FirmwareImage::part)
                        .filter(p -> !p.isEmpty())
                        .collect(Collectors.toCollection(TreeSet::new));
        if (parts.isEmpty()) {
            return;
        }
        Map<String, List<FirmwareImage>> byVariant = new TreeMap<>();
        release.images().stream()
                .filter(i -> i.purpose() == Purpose.UPGRADE && !i.part().isEmpty())
                .forEach(
                        i ->
                                byVariant
                                        .computeIfAbsent(
                                                i.variant() + " " + i.deltaFrom(),
                                                _ -> new ArrayList<>())
                                        .add(i));
        byVariant
                .values()
                .forEach(
                        images -> {
                            Set<String> missing = new TreeSet<>(parts);
                            images.forEach(image -> missing.remove(image.part()));
                            if (!missing.isEmpty()) {
                                complaints.add(
                                        known(spots, images.getFirst()),
                                        "%s is one part of %s and has no counterpart for the same hardware: the part %s is missing."
                                                .formatted(
                                                        images.getFirst().fileName(),
                                                        release.version(),
                                                        String.join(" and ", missing)));
                            }
                        });
    }

    private void checkImage(Release release, FirmwareImage image) {
        image.deltaFrom()
                .filter(base -> catalogue.find(release.component(), base).isEmpty())
                .ifPresent(
                        base ->
                                complaints.add(
                                        known(spots, image),
                                        "%s is a delta from %s, which is not in this catalogue."
                                                .formatted(image.fileName(), base)));
        if (image.purpose() != Purpose.UPGRADE) {
            return;
        }
        checkAgainstRules(release, image);
    }

    private void checkAgainstRules(Release release, FirmwareImage image) {
        for (MovementRule rule : rules(release)) {
            if (rule.opens().isEmpty() && excludes(rule.guard(), image.variant())) {
                complaints.add(
                        known(spots, image),
                        "%s is for hardware on which the rule %s never allows %s; one of the two is wrong."
                                .formatted(image.fileName(), rule.id(), release.version()));
            }
        }
    }

    private static boolean excludes(Guard guard, Variant image) {
        return switch (guard) {
            case Guard.NeverOn(Variant dropped) ->
                    isWithin(image.revisions(), dropped.revisions())
                            && isWithin(image.models(), dropped.models())
                            && isWithin(image.regions(), dropped.regions())
                            && isWithin(image.brands(), dropped.brands());
            case Guard.OnlyOn(Variant kept) ->
                    isApart(image.revisions(), kept.revisions())
                            || isApart(image.models(), kept.models())
                            || isApart(image.regions(), kept.regions());
            case Guard.From _, Guard.Needs _, Guard.Entitled _ -> false;
        };
    }

    /**
     * Whether everything that the image is for was dropped; a list that is empty stands for any.
     */
    private static boolean isWithin(List<String> image, List<String> dropped) {
        return dropped.isEmpty() || (!image.isEmpty() && new HashSet<>(dropped).containsAll(image));
    }

    private static boolean isApart(List<String> image, List<String> kept) {
        return !kept.isEmpty() && !image.isEmpty() && image.stream().noneMatch(kept::contains);
    }
}
