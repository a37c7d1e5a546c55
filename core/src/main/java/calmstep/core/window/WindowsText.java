package calmstep.core.window;

import calmstep.core.text.Complaints;
import calmstep.core.text.Nearest;
import calmstep.core.text.RejectedText;
import calmstep.core.text.Section;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.temporal.TemporalAccessor;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * Reads a windows file (format 1, {@code docs/formats.md}). All or nothing: one complaint refuses
 * the whole file.
 */
public final class WindowsText {
    private final Complaints complaints = new Complaints();
    private final Set<String> sites;
    private final Map<String, String> today;
    private final boolean mayNameOthers;
    private final Map<String, String> kindOf = new TreeMap<>();

    private WindowsText(Map<String, String> today, boolean mayNameOthers) {
        this.today = today;
        sites = Set.copyOf(today.values());
        this.mayNameOthers = mayNameOthers;
    }

    /**
     * @param sites the sites that are known
     * @throws RejectedText with everything that is wrong, each at its line and column
     */
    public static NightRules read(String file, String text, Set<String> sites) {
        return read(
                file,
                text,
                sites.stream().collect(Collectors.toMap(Function.identity(), site -> site)));
    }

    /**
     * @param today what each known site is called today, by every name that it has or had
     * @throws RejectedText with everything that is wrong, each at its line and column
     */
    public static NightRules read(String file, String text, Map<String, String> today) {
        return new WindowsText(today, false).read(file, text);
    }

    /**
     * A text that was taken over before, and holds as it did: it may name sites that have gone
     * since, or two by what is one site today, which is then of the first kind that it is given.
     */
    public static NightRules readKept(String file, String text, Map<String, String> today) {
        return new WindowsText(today, true).read(file, text);
    }

    private NightRules read(String file, String text) {
        Section top = Section.ofText("windows", file, text, complaints);
        if (top.number("windows", 0) != 1) {
            top.complain("windows", "Expected \"windows: 1\", the format that this version reads.");
        }
        top.section("kinds").ifPresent(this::readKinds);
        List<WindowRule> rules = new ArrayList<>();
        top.sections("open").forEach(section -> readRule(section).ifPresent(rules::add));
        List<Freeze> freezes = new ArrayList<>();
        top.sections("freezes").forEach(section -> readFreeze(section).ifPresent(freezes::add));
        Limits limits = top.section("limits").flatMap(this::readLimits).orElse(Limits.USUAL);
        Map<String, SiteLink> links = new TreeMap<>();
        Map<String, Integer> closeness = new HashMap<>();
        top.sections("links").forEach(section -> readLink(section, links, closeness));
        top.close();
        complaints.throwIfAny();
        return new NightRules(kindOf, rules, freezes, limits, links);
    }

    private void readKinds(Section section) {
        for (String kind : section.keys()) {
            for (String site : known(section, kind, section.texts(kind))) {
                String other = kindOf.putIfAbsent(site, kind);
                if (other != null && !mayNameOthers) {
                    section.complain(
                            kind,
                            "The site %s is of the kind %s already; keep one."
                                    .formatted(site, other));
                }
            }
        }
    }

    private List<String> known(Section section, String key, List<String> names) {
        names.stream()
                .filter(name -> !today.containsKey(name) && !mayNameOthers)
                .forEach(
                        name ->
                                section.complain(
                                        key,
                                        "The site \"%s\" is not in the inventory; %s"
                                                .formatted(name, Nearest.hint(name, sites))));
        return names.stream().map(name -> today.getOrDefault(name, name)).distinct().toList();
    }

    private Places placesOf(Section section) {
        List<String> kinds = section.texts("kinds");
        Set<String> given = new HashSet<>(kindOf.values());
        kinds.stream()
                .filter(kind -> !given.contains(kind))
                .forEach(
                        kind ->
                                section.complain(
                                        "kinds",
                                        "The kind \"%s\" is not under \"kinds\"; %s"
                                                .formatted(kind, Nearest.hint(kind, given))));
        return new Places(
                Set.copyOf(known(section, "sites", section.texts("sites"))), Set.copyOf(kinds));
    }

    private Optional<WindowRule> readRule(Section section) {
        try (section) {
            Places places = placesOf(section);
            String name = section.text("name");
            Optional<LocalDate> since = section.find("since", WindowsText::dateOf);
            Optional<Days> days =
                    section.has("on")
                            ? section.find("on", text -> new Days.On(dateOf(text)))
                            : section.require("rule", text -> Days.Recurring.of(text, since));
            if (section.has("on") && section.has("rule")) {
                section.complain("on", "Expected either a day (on) or a rule, saw both.");
            }
            Optional<LocalTime> from = section.require("from", WindowsText::timeOf);
            Optional<LocalTime> until = section.require("until", WindowsText::timeOf);
            return days.flatMap(
                    d -> from.flatMap(f -> until.map(u -> new WindowRule(name, places, d, f, u))));
        }
    }

    private Optional<Freeze> readFreeze(Section section) {
        try (section) {
            Places places = placesOf(section);
            String name = section.text("name");
            Optional<LocalDateTime> from = section.require("from", text -> momentOf(text, false));
            Optional<LocalDateTime> until = section.require("until", text -> momentOf(text, true));
            return from.isEmpty() || until.isEmpty() || !endsAfter(from.get(), until.get(), section)
                    ? Optional.empty()
                    : Optional.of(new Freeze(name, places, from.get(), until.get()));
        }
    }

    private static boolean endsAfter(LocalDateTime from, LocalDateTime until, Section section) {
        boolean after = from.isBefore(until);
        if (!after) {
            section.complain(
                    "until",
                    "The freeze must end after it begins; saw %s to %s."
                            .formatted(section.text("from"), section.text("until")));
        }
        return after;
    }

    private Optional<Limits> readLimits(Section section) {
        try (section) {
            Map<String, Integer> sitesANight = new TreeMap<>();
            section.section("sites-a-night")
                    .ifPresent(
                            byKind -> {
                                Set<String> kinds = new HashSet<>(kindOf.values());
                                for (String kind : byKind.keys()) {
                                    sitesANight.put(kind, atLeastOne(byKind, kind, 1));
                                    if (!kinds.contains(kind)) {
                                        byKind.complain(
                                                kind,
                                                "The kind \"%s\" is not under \"kinds\"; %s"
                                                        .formatted(
                                                                kind, Nearest.hint(kind, kinds)));
                                    }
                                }
                            });
            return Optional.of(
                    new Limits(
                            atLeastOne(section, "at-once", Limits.USUAL.atOnce()),
                            atLeastOne(section, "at-once-a-site", Limits.USUAL.perSite()),
                            atLeastOne(section, "at-once-a-family", Limits.USUAL.perFamily()),
                            sitesANight,
                            (int) Math.max(0, section.number("pilots", Limits.USUAL.pilots())),
                            section.duration("soak", Limits.USUAL.soak()),
                            readWatch(section)));
        }
    }

    private static Limits.Watch readWatch(Section section) {
        Limits.Watch usual = Limits.Watch.USUAL;
        int percent = atLeastOne(section, "stop-at-percent", usual.stopAtPercent());
        if (percent > 100) {
            section.complain(
                    "stop-at-percent",
                    "Expected a share from 1 to 100, saw %s.".formatted(percent));
        }
        return new Limits.Watch(
                section.duration("watch", usual.each()),
                atLeastOne(section, "stop-at", usual.stopAt()),
                percent);
    }

    private static int atLeastOne(Section section, String key, int otherwise) {
        long number = section.number(key, otherwise);
        if (number < 1 || number > 100_000) {
            section.complain(
                    key,
                    "Expected a number from 1 to 100000 for %s, saw %s.".formatted(key, number));
            return otherwise;
        }
        return (int) number;
    }

    /** A line that names its sites goes before one for their kinds, and that before one for all. */
    private static int closeness(Places places) {
        return places.sites().isEmpty() ? places.kinds().isEmpty() ? 0 : 1 : 2;
    }

    private void readLink(
            Section section, Map<String, SiteLink> links, Map<String, Integer> closeness) {
        try (section) {
            Places places = placesOf(section);
            long rate = section.number("bytes-per-second", 0);
            if (rate < 1) {
                section.complain(
                        "bytes-per-second",
                        "Expected how many bytes a second transfers may take, saw %s."
                                .formatted(rate));
            }
            String shared = section.text("shared", "");
            sites.stream()
                    .filter(site -> places.hold(site, kindOf))
                    .filter(site -> closeness(places) >= closeness.getOrDefault(site, 0))
                    .forEach(
                            site -> {
                                closeness.put(site, closeness(places));
                                links.put(
                                        site,
                                        new SiteLink(
                                                shared.isEmpty() ? site : "shared: " + shared,
                                                rate));
                            });
        }
    }

    private static LocalDate dateOf(String text) {
        return parsed(text, LocalDate::parse, "a date such as 2026-12-03");
    }

    private static LocalTime timeOf(String text) {
        return parsed(text, LocalTime::parse, "a time such as \"01:15\" (in quotes)");
    }

    /**
     * @param whole whether a date without a time means the end of that day
     */
    private static LocalDateTime momentOf(String text, boolean whole) {
        return text.length() > "2026-12-03".length()
                ? parsed(
                        text.replace(' ', 'T'),
                        LocalDateTime::parse,
                        "a date, or a date and time such as \"2026-12-03 18:00\"")
                : dateOf(text).plusDays(whole ? 1 : 0).atStartOfDay();
    }

    private static <T extends TemporalAccessor> T parsed(
            String text, Function<String, T> parser, String expected) {
        try {
            return parser.apply(text);
        } catch (DateTimeException unreadable) {
            throw new IllegalArgumentException(
                    "Expected %s, saw \"%s\".".formatted(expected, text), unreadable);
        }
    }
}
