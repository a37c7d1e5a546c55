package calmstep.service.windows;

import static calmstep.core.known.Known.known;

import calmstep.core.fleet.Site;
import calmstep.core.plan.NightPlanning;
import calmstep.core.window.Limits;
import calmstep.core.window.NightRules;
import calmstep.core.window.Window;
import calmstep.core.window.WindowsText;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The windows that hold. */
@Component
public class Windows {
    private static final int MOST_DAYS = 400;

    private final WindowsFiles files;
    private final Fleet fleet;
    private final Events events;
    private final Clock clock;

    Windows(WindowsFiles files, Fleet fleet, Events events, Clock clock) {
        this.files = files;
        this.fleet = fleet;
        this.events = events;
        this.clock = clock;
    }

    /**
     * @param zone of the site, whose clocks count
     */
    record OpenView(
            String site,
            String siteTitle,
            String kind,
            String zone,
            LocalDate night,
            Instant opens,
            Instant closes) {}

    record LimitsView(
            int atOnce,
            int atOnceASite,
            int atOnceAFamily,
            Map<String, Integer> sitesANight,
            int pilots,
            long soakSeconds,
            long watchSeconds,
            int stopAt,
            int stopAtPercent) {
        static LimitsView of(Limits limits) {
            return new LimitsView(
                    limits.atOnce(),
                    limits.perSite(),
                    limits.perFamily(),
                    limits.sitesANight(),
                    limits.pilots(),
                    limits.soak().toSeconds(),
                    limits.watch().each().toSeconds(),
                    limits.watch().stopAt(),
                    limits.watch().stopAtPercent());
        }
    }

    /**
     * A windows file.
     *
     * @param without sites that have no window at all in the next 92 days
     */
    record FileView(
            String fileName,
            String text,
            Instant importedAt,
            String importedBy,
            LimitsView limits,
            int rules,
            int freezes,
            List<String> without) {}

    /**
     * Takes a windows file over; the ones before stay on record.
     *
     * @throws calmstep.core.text.RejectedText with everything that is wrong in the text
     */
    @Transactional
    public NightRules take(String fileName, String text, String who) {
        NightRules rules = WindowsText.read(fileName, text, names());
        WindowsFile file = new WindowsFile();
        file.fileName = fileName;
        file.text = text;
        file.importedAt = clock.instant();
        file.importedBy = who;
        files.save(file);
        events.append(
                Optional.empty(),
                "windows",
                "windows",
                who,
                "Windows imported from %s: %s rules, %s freezes."
                        .formatted(fileName, rules.windows().size(), rules.freezes().size()));
        return rules;
    }

    /** The rules that hold; empty as long as nobody gave any. */
    @Transactional(readOnly = true)
    public Optional<NightRules> current() {
        return files.findFirstByOrderByIdDesc().map(this::rulesOf);
    }

    /**
     * The next window of a site that leaves some time; empty where there is none as far as plans
     * look ahead.
     */
    @Transactional(readOnly = true)
    public Optional<Window> next(String site, Instant from, Duration needs) {
        return current()
                .flatMap(
                        rules ->
                                rules
                                        .of(
                                                known(fleet.sitesByAnyName(), site),
                                                from,
                                                from.plus(NightPlanning.AHEAD))
                                        .stream()
                                        .filter(window -> holds(window, from, needs))
                                        .findFirst());
    }

    private static boolean holds(Window window, Instant from, Duration needs) {
        Instant begins = window.opens().isAfter(from) ? window.opens() : from;
        return !begins.plus(needs).isAfter(window.closes());
    }

    /** Why a site may not be disturbed in a stretch of time; empty where it may be. */
    @Transactional(readOnly = true)
    public Optional<String> whyNot(String site, Instant begins, Instant ends) {
        return current()
                .flatMap(rules -> rules.whyNot(known(fleet.sitesByAnyName(), site), begins, ends));
    }

    private NightRules rulesOf(WindowsFile file) {
        return WindowsText.readKept(file.fileName, file.text, names());
    }

    /** What each site is called today, by every name that it has or had. */
    private Map<String, String> names() {
        return fleet.sitesByAnyName().entrySet().stream()
                .collect(Collectors.toMap(Map.Entry::getKey, site -> site.getValue().name()));
    }

    private Map<String, Site> sites() {
        Map<String, Site> sites = new TreeMap<>();
        fleet.sites().forEach(site -> sites.put(site.name(), site));
        return sites;
    }

    @Transactional(readOnly = true)
    FileView file() {
        WindowsFile file =
                files.findFirstByOrderByIdDesc()
                        .orElseThrow(() -> Refusal.notFound("windows file", "any: import one"));
        NightRules rules = rulesOf(file);
        Instant now = clock.instant();
        return new FileView(
                file.fileName,
                file.text,
                file.importedAt,
                file.importedBy,
                LimitsView.of(rules.limits()),
                rules.windows().size(),
                rules.freezes().size(),
                sites().values().stream()
                        .filter(
                                site ->
                                        rules.of(site, now, now.plus(Duration.ofDays(92)))
                                                .isEmpty())
                        .map(Site::name)
                        .toList());
    }

    /**
     * @param named sites; none means all
     */
    @Transactional(readOnly = true)
    List<OpenView> open(Set<String> named, int days) {
        if (days < 1 || days > MOST_DAYS) {
            throw Refusal.wrong("Expected 1 to %s days, saw %s.".formatted(MOST_DAYS, days));
        }
        Map<String, Site> sites = sites();
        named.stream()
                .filter(name -> !sites.containsKey(name))
                .findFirst()
                .ifPresent(
                        name -> {
                            throw Refusal.notFound("site", name);
                        });
        NightRules rules = current().orElse(NightRules.NONE);
        Instant now = clock.instant();
        return sites.values().stream()
                .filter(site -> named.isEmpty() || named.contains(site.name()))
                .flatMap(
                        site ->
                                rules.of(site, now, now.plus(Duration.ofDays(days))).stream()
                                        .map(
                                                (Window w) ->
                                                        new OpenView(
                                                                site.name(),
                                                                site.title(),
                                                                rules.kindOf()
                                                                        .getOrDefault(
                                                                                site.name(), ""),
                                                                site.zone().getId(),
                                                                w.night(),
                                                                w.opens(),
                                                                w.closes())))
                .sorted(
                        java.util.Comparator.comparing(OpenView::opens)
                                .thenComparing(OpenView::site))
                .toList();
    }
}
