package calmstep.core.catalogue;

import static calmstep.core.known.Known.known;

import calmstep.core.catalogue.MovementRule.Way;
import calmstep.core.text.Complaints;
import calmstep.core.text.Nearest;
import calmstep.core.text.RejectedText;
import calmstep.core.text.Section;
import calmstep.core.text.Spot;
import calmstep.core.version.Version;
import calmstep.core.version.VersionRange;
import calmstep.core.version.VersionScheme;
import java.time.Duration;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;

/** Reads a catalogue file (format 1, {@code docs/formats.md}) and checks it as a whole. */
public final class CatalogueText {
    private final Complaints complaints = new Complaints();
    private final Section top;
    private final SortedMap<String, VersionScheme> schemes = new TreeMap<>();
    private final List<Release> releases = new ArrayList<>();
    private final Set<String> ruleIds = new HashSet<>();
    private final Set<String> outside = new HashSet<>();
    private final Map<String, SortedMap<Version, Release>> known = new HashMap<>();
    private final Set<String> fileNames = new HashSet<>();
    private final IdentityHashMap<Object, Spot> spots = new IdentityHashMap<>();

    private CatalogueText(String file, String text) {
        top = Section.ofText("catalogue", file, text, complaints);
    }

    /**
     * @param file name of the text, for complaints
     * @throws RejectedText with everything that is wrong, each at its line and column
     */
    public static Catalogue read(String file, String text) {
        return new CatalogueText(file, text).read();
    }

    private Catalogue read() {
        if (top.number("catalogue", 0) != 1) {
            top.complain(
                    "catalogue", "Expected \"catalogue: 1\", the format that this version reads.");
        }
        String family = top.text("family");
        String title = top.text("title", family);
        LocalDate issued = dateOf(top, "issued");
        readSchemes();
        long rate = top.number("copies-at-bytes-per-second", 1_000_000);
        Duration giveUp = top.duration("gives-up-after", Duration.ofMinutes(20));
        top.sections("releases").forEach(this::readRelease);
        checkLines();
        List<MovementRule> rules =
                top.sections("rules").stream().flatMap(s -> readRule(s).stream()).toList();
        List<Effect> effects =
                top.sections("effects").stream().flatMap(s -> readEffect(s).stream()).toList();
        List<SideBySide> sideBySide =
                top.sections("side-by-side").stream()
                        .flatMap(s -> readSideBySide(s).stream())
                        .toList();
        Optional<Grouping> grouping = top.section("unit").map(CatalogueSections::groupingOf);
        Optional<Dependents> dependents =
                top.section("dependents").map(CatalogueSections::dependentsOf);
        List<Advisory> advisories =
                top.sections("advisories").stream().flatMap(s -> readAdvisory(s).stream()).toList();
        top.close();
        complaints.throwIfAny();
        Catalogue catalogue =
                new Catalogue(
                        family,
                        title,
                        issued,
                        schemes,
                        outside,
                        rate,
                        giveUp,
                        releases,
                        rules,
                        effects,
                        sideBySide,
                        grouping,
                        dependents,
                        advisories);
        new CatalogueCheck(catalogue, spots, complaints).check();
        complaints.throwIfAny();
        return catalogue;
    }

    private void readSchemes() {
        top.section("components")
                .ifPresent(
                        components ->
                                components
                                        .keys()
                                        .forEach(
                                                name ->
                                                        components
                                                                .section(name)
                                                                .ifPresent(
                                                                        component ->
                                                                                readScheme(
                                                                                        component,
                                                                                        name))));
        if (!schemes.containsKey(Catalogue.SYSTEM)) {
            top.complain(
                    "components",
                    "A family needs the component \"system\"; describe its versions under"
                            + " \"components\".");
        }
    }

    private void readScheme(Section component, String name) {
        if (component.flag("outside", false)) {
            outside.add(name);
        }
        schemes.put(name, schemeOf(component));
    }

    private static VersionScheme schemeOf(Section section) {
        try (section) {
            List<String> fields = List.of(section.text("fields").split("\\s*to\\s*"));
            return new VersionScheme(
                    section.text("prefix", ""),
                    Integer.parseInt(fields.getFirst()),
                    Integer.parseInt(fields.getLast()),
                    section.flag("letters", false),
                    section.text("build-word", ""),
                    section.flag("missing-is-zero", false));
        } catch (IllegalArgumentException refused) {
            section.complain(
                    "fields",
                    "Expected a number of fields such as \"3\" or \"2 to 4\": "
                            + refused.getMessage());
            return VersionScheme.ANY;
        }
    }

    private static LocalDate dateOf(Section section, String key) {
        return section.require(
                        key,
                        text -> {
                            try {
                                return LocalDate.parse(text);
                            } catch (DateTimeParseException notADate) {
                                throw new IllegalArgumentException(
                                        "Expected a date such as 2026-03-14, saw \"%s\"."
                                                .formatted(text),
                                        notADate);
                            }
                        })
                .orElse(LocalDate.EPOCH);
    }

    private String componentOf(Section section) {
        String component = section.text("component", Catalogue.SYSTEM);
        if (!schemes.containsKey(component)) {
            section.complain(
                    "component",
                    "The component \"%s\" is not described under \"components\"; %s"
                            .formatted(component, Nearest.hint(component, schemes.keySet())));
        }
        return component;
    }

    private VersionScheme schemeOf(String component) {
        return schemes.getOrDefault(component, VersionScheme.ANY);
    }

    private void readRelease(Section section) {
        try (section) {
            String component = componentOf(section);
            Optional<Version> version = section.require("version", schemeOf(component)::parse);
            if (outside.contains(component)) {
                section.complain(
                        "component",
                        "The component %s stands outside the device and has no releases here; say of rules what it \"needs\"."
                                .formatted(component));
            }
            String line = section.text("line", "");
            Channel channel = section.find("channel", Channel::parse).orElse(Channel.GENERAL);
            LocalDate date = dateOf(section, "date");
            List<FirmwareImage> images =
                    section.sections("images").stream()
                            .flatMap(image -> readImage(image, component).stream())
                            .toList();
            SortedMap<String, Version> brings = new TreeMap<>();
            section.section("brings")
                    .ifPresent(
                            b ->
                                    b.keys()
                                            .forEach(
                                                    name ->
                                                            b.require(name, schemeOf(name)::parse)
                                                                    .ifPresent(
                                                                            v ->
                                                                                    brings.put(
                                                                                            name,
                                                                                            v))));
            Release release =
                    new Release(
                            component,
                            version.orElseGet(() -> VersionScheme.ANY.parse("0")),
                            line,
                            channel,
                            date,
                            section.flag("recommended", false),
                            section.flag("may-rest", false),
                            brings,
                            section.texts("notes"),
                            section.texts("fixes"),
                            section.texts("caveats"),
                            images);
            version.ifPresent(
                    _ -> {
                        spots.put(release, section.spotOf("version"));
                        images.forEach(image -> spots.put(image, section.spotOf("images")));
                        if (known.computeIfAbsent(component, _ -> new TreeMap<>())
                                        .putIfAbsent(release.version(), release)
                                != null) {
                            section.complain(
                                    "version",
                                    "The release %s of %s is described twice; keep one."
                                            .formatted(release.version(), component));
                        }
                        releases.add(release);
                    });
        }
    }

    /** A family with software lines says of each release of the system which it belongs to. */
    private void checkLines() {
        List<Release> system =
                releases.stream().filter(r -> r.component().equals(Catalogue.SYSTEM)).toList();
        if (system.stream().anyMatch(r -> !r.line().isEmpty())) {
            system.stream()
                    .filter(r -> r.line().isEmpty())
                    .forEach(
                            r ->
                                    complaints.add(
                                            known(spots, r),
                                            "The release %s names no software line, others of its component do; add \"line\"."
                                                    .formatted(r.version())));
        }
    }

    private Optional<FirmwareImage> readImage(Section section, String component) {
        try (section) {
            String file = section.text("file");
            long size = section.number("size-bytes", 0);
            String sha256 = section.text("sha256");
            Purpose purpose = section.find("purpose", Purpose::parse).orElse(Purpose.UPGRADE);
            Variant variant =
                    section.section("for").map(CatalogueSections::variantOf).orElse(Variant.ANY);
            if (!fileNames.add(file)) {
                section.complain(
                        "file",
                        "The file %s is published twice; file names must tell images apart."
                                .formatted(file));
            }
            Optional<Version> deltaFrom = section.find("delta-from", schemeOf(component)::parse);
            return Optional.of(
                    new FirmwareImage(
                            file,
                            size,
                            sha256,
                            purpose,
                            variant,
                            section.text("part", ""),
                            deltaFrom,
                            section.section("archive").flatMap(CatalogueSections::archiveOf)));
        } catch (IllegalArgumentException refused) {
            section.complain(
                    CatalogueSections.refusedKey(section), String.valueOf(refused.getMessage()));
            return Optional.empty();
        }
    }

    private Optional<MovementRule> readRule(Section section) {
        try (section) {
            String id = section.text("id");
            if (!ruleIds.add(id)) {
                section.complain(
                        "id",
                        "The rule \"%s\" is given twice; identifiers must tell rules apart."
                                .formatted(id));
            }
            String component = componentOf(section);
            VersionRange to = rangeOf(section, "to", component).orElse(VersionRange.ANY);
            Set<Way> opens = EnumSet.noneOf(Way.class);
            if (section.flag("opens-down", false)) {
                opens.add(Way.DOWN);
            }
            if (section.flag("opens-line", false)) {
                opens.add(Way.LINE);
            }
            String source = section.text("source");
            String says = section.text("says");
            Optional<MovementRule> rule =
                    guardOf(section, component)
                            .map(
                                    guard ->
                                            new MovementRule(
                                                    id, component, to, guard, opens, source, says));
            rule.ifPresent(r -> spots.put(r, section.spotOf("id")));
            return rule;
        }
    }

    private Optional<Guard> guardOf(Section section, String component) {
        List<Guard> guards = new ArrayList<>();
        if (section.has("from")) {
            rangeOf(section, "from", component).map(Guard.From::new).ifPresent(guards::add);
        }
        section.section("needs")
                .ifPresent(
                        needs ->
                                needs.keys()
                                        .forEach(
                                                other ->
                                                        rangeOf(needs, other, other)
                                                                .map(
                                                                        range ->
                                                                                new Guard.Needs(
                                                                                        other,
                                                                                        range))
                                                                .ifPresent(guards::add)));
        section.section("only-on")
                .map(CatalogueSections::variantOf)
                .map(Guard.OnlyOn::new)
                .ifPresent(guards::add);
        section.section("never-on")
                .map(CatalogueSections::variantOf)
                .map(Guard.NeverOn::new)
                .ifPresent(guards::add);
        if (section.flag("entitled", false)) {
            guards.add(new Guard.Entitled());
        }
        if (guards.size() > 1) {
            complaints.add(
                    section.spot(),
                    "A rule has one guard, this one has %s; write one rule for each."
                            .formatted(guards.size()));
        } else if (guards.isEmpty() && !section.has("from") && !section.has("needs")) {
            complaints.add(
                    section.spot(),
                    "A rule needs a guard: one of from, needs, only-on, never-on, entitled.");
        }
        return guards.stream().findFirst();
    }

    /**
     * A range whose every bound is a release of the catalogue: a misspelt bound would bar or open
     * moves in silence.
     */
    private Optional<VersionRange> rangeOf(Section section, String key, String component) {
        Optional<VersionRange> range =
                section.require(key, text -> VersionRange.parse(text, schemeOf(component)));
        SortedMap<Version, Release> there = known.getOrDefault(component, new TreeMap<>());
        if (!outside.contains(component)) {
            range.ifPresent(
                    r ->
                            r.named().stream()
                                    .filter(version -> !there.containsKey(version))
                                    .forEach(
                                            version ->
                                                    complainOfUnknown(
                                                            version, section, key, component,
                                                            there)));
        }
        return range;
    }

    private static void complainOfUnknown(
            Version version,
            Section section,
            String key,
            String component,
            SortedMap<Version, Release> there) {
        section.complain(
                key,
                "The release %s of %s is not in this catalogue; %s"
                        .formatted(
                                version,
                                component,
                                Nearest.hint(
                                        version.text(),
                                        there.keySet().stream().map(Version::text).toList())));
    }

    private VersionRange rangeOrAny(Section section, String key, String component) {
        return section.has(key)
                ? rangeOf(section, key, component).orElse(VersionRange.ANY)
                : VersionRange.ANY;
    }

    private Optional<Effect> readEffect(Section section) {
        try (section) {
            String component = componentOf(section);
            VersionRange from = rangeOrAny(section, "from", component);
            return rangeOf(section, "to", component)
                    .map(to -> effect(section, component, to, from));
        }
    }

    private static Effect effect(
            Section section, String component, VersionRange to, VersionRange from) {
        return new Effect(
                component,
                to,
                from,
                (int) section.number("restarts", 1),
                section.duration("dark", Duration.ofMinutes(5)),
                section.find("configuration", Effect.Configuration::parse)
                        .orElse(Effect.Configuration.KEPT),
                section.texts("loses"));
    }

    private Optional<SideBySide> readSideBySide(Section section) {
        try (section) {
            VersionRange one = rangeOf(section, "one", Catalogue.SYSTEM).orElse(VersionRange.ANY);
            String source = section.text("source");
            return rangeOf(section, "other", Catalogue.SYSTEM)
                    .map(other -> new SideBySide(one, other, source));
        }
    }

    private Optional<Advisory> readAdvisory(Section section) {
        try (section) {
            String component = componentOf(section);
            String id = section.text("id");
            if (!ruleIds.add("advisory " + id)) {
                section.complain(
                        "id", "The advisory \"%s\" is given twice; keep one.".formatted(id));
            }
            Advisory.Severity severity =
                    section.require("severity", Advisory.Severity::parse)
                            .orElse(Advisory.Severity.LOW);
            LocalDate published = dateOf(section, "published");
            Variant on =
                    section.section("on").map(CatalogueSections::variantOf).orElse(Variant.ANY);
            String title = section.text("title");
            String says = section.text("says");
            return rangeOf(section, "affects", component)
                    .map(
                            affects ->
                                    new Advisory(
                                            id, title, severity, published, component, affects, on,
                                            says));
        }
    }
}
