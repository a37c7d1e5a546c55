package calmstep.core.path;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Channel;
import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Guard;
import calmstep.core.catalogue.Hardware;
import calmstep.core.catalogue.MovementRule;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Release;
import calmstep.core.catalogue.Variant;
import calmstep.core.version.Version;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;

/** The moves that a catalogue gives one kind of device, and what bars each. What depends on the release alone is worked out once. */
final class Moves {
    private record Facts(List<MovementRule> rules, Effect effect, Optional<FirmwareImage> image, List<Obstacle> always, Cost cost) {}

    private final Hardware hardware;
    private final boolean entitled;
    private final Map<Release, Facts> facts = new IdentityHashMap<>();

    Moves(Question question) {
        hardware = question.hardware();
        entitled = question.entitled();
        LocalDate oldEnough = question.today().minusDays(question.youngestDays());
        for (Release release : question.catalogue().releases()) {
            facts.put(release, factsOf(question.catalogue(), release, oldEnough));
        }
    }

    private Facts factsOf(Catalogue catalogue, Release release, LocalDate oldEnough) {
        List<MovementRule> rules = catalogue.rules().stream()
                .filter(r -> r.component().equals(release.component()) && r.to().contains(release.version()))
                .toList();
        Effect effect = catalogue.effectOf(release);
        Optional<FirmwareImage> image = imageOf(release);
        List<Obstacle> always = new ArrayList<>();
        if (release.channel() == Channel.WITHDRAWN) {
            always.add(new Obstacle.Withdrawn(release));
        }
        if (image.isEmpty()) {
            always.add(new Obstacle.NoImage(release, refusalsOf(release)));
        }
        boolean unproven = !release.channel().isProven() || release.date().isAfter(oldEnough);
        Cost cost = new Cost(0, effect.restarts(), effect.dark().toSeconds(), unproven ? 1 : 0, image.map(FirmwareImage::sizeBytes).orElse(0L));
        return new Facts(rules, effect, image, always, cost);
    }

    private Optional<FirmwareImage> imageOf(Release release) {
        return release.images().stream()
                .filter(i -> i.purpose() == Purpose.UPGRADE && i.variant().refusal(hardware).isEmpty())
                .findFirst();
    }

    private List<String> refusalsOf(Release release) {
        return release.images().stream().map(image -> image.fileName() + ": "
                + (image.purpose() == Purpose.UPGRADE
                        ? image.variant().refusal(hardware).orElse("")
                        : "its purpose is " + image.purpose())).toList();
    }

    /** Everything that bars installing the release in this state; empty when the move is allowed. */
    List<Obstacle> obstacles(SortedMap<String, Version> state, Release release) {
        Facts known = facts.get(release);
        List<Obstacle> found = new ArrayList<>(known.always());
        Version running = state.get(release.component());
        boolean down = running != null && release.version().compareTo(running) < 0;
        boolean opened = !down;
        for (MovementRule rule : known.rules()) {
            if (rule.opensDown() && !down) {
                continue;
            }
            Optional<String> seen = violation(rule.guard(), state, release.component());
            seen.ifPresent(s -> found.add(new Obstacle.BarredByRule(rule, s)));
            opened |= rule.opensDown() && seen.isEmpty();
        }
        if (!opened) {
            found.add(new Obstacle.WayDownNotDescribed(String.valueOf(running), release.version().text()));
        }
        return found;
    }

    /** What the device has where the guard wants something else; empty when the guard holds. */
    private Optional<String> violation(Guard guard, SortedMap<String, Version> state, String component) {
        return switch (guard) {
            case Guard.From(var range) -> outside(range, component, state);
            case Guard.Needs(String other, var range) -> outside(range, other, state);
            case Guard.OnlyOn(Variant variant) -> variant.covers(hardware) ? Optional.empty() : Optional.of(describe());
            case Guard.NeverOn(Variant variant) -> variant.covers(hardware) ? Optional.of(describe()) : Optional.empty();
            case Guard.Entitled() -> entitled ? Optional.empty() : Optional.of("no support entitlement");
        };
    }

    private static Optional<String> outside(calmstep.core.version.VersionRange range, String component, SortedMap<String, Version> state) {
        Version version = state.get(component);
        if (version == null) {
            return Optional.of("%s is not known".formatted(component));
        }
        return range.contains(version) ? Optional.empty() : Optional.of("%s %s".formatted(component, version));
    }

    private String describe() {
        return "model %s, revision %s".formatted(hardware.model(), hardware.revision());
    }

    /** Rules that speak of a release. */
    List<MovementRule> rules(Release release) {
        return facts.get(release).rules();
    }

    /** How many things bar a release on this device in every state. */
    int always(Release release) {
        return facts.get(release).always().size();
    }

    /** Whether a guard that looks at the device and not at its state holds. */
    boolean holdsOnThisDevice(Guard guard) {
        return violation(guard, new java.util.TreeMap<>(), "").isEmpty();
    }

    Cost cost(Release release) {
        return facts.get(release).cost();
    }

    /** The move as a hop. The image is there for every move without obstacles. */
    Hop hop(SortedMap<String, Version> before, Release release, List<Reason> why) {
        Facts known = facts.get(release);
        List<String> toKnow = new ArrayList<>(release.caveats());
        if (known.effect().configuration() != Effect.Configuration.KEPT) {
            toKnow.add("the configuration is %s by this move".formatted(known.effect().configuration()));
        }
        Version from = before.get(release.component());
        return new Hop(release.component(), from == null ? "" : from.text(), release.version().text(), known.image().orElseThrow(),
                known.effect().restarts(), known.effect().dark(), known.effect().configuration(), release.mayRest(), why, toKnow);
    }
}
