package calmstep.service.plans;

import calmstep.core.fleet.Site;
import calmstep.core.order.Outage;
import calmstep.core.plan.Nights;
import calmstep.core.plan.NightsView;
import calmstep.core.plan.NightsView.NightView;
import calmstep.core.plan.NightsView.PlacedView;
import calmstep.core.plan.Reached;
import calmstep.core.step.UnitPlan;
import calmstep.core.wave.Placement;
import calmstep.service.plans.PlanCalendars.Span;
import calmstep.service.problems.Refusal;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SequencedMap;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import net.fortuna.ical4j.data.CalendarOutputter;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.Description;
import net.fortuna.ical4j.model.property.DtStamp;
import net.fortuna.ical4j.model.property.Location;
import net.fortuna.ical4j.model.property.ProdId;
import net.fortuna.ical4j.model.property.Sequence;
import net.fortuna.ical4j.model.property.Status;
import net.fortuna.ical4j.model.property.Uid;
import net.fortuna.ical4j.model.property.immutable.ImmutableMethod;
import net.fortuna.ical4j.model.property.immutable.ImmutableStatus;
import net.fortuna.ical4j.model.property.immutable.ImmutableVersion;

/**
 * A plan's nights as a calendar (RFC 5545): one event for each night and site that is worked at or
 * loses the network meanwhile. Times are in UTC, which every calendar shows by its own clock.
 *
 * @param state of the plan: an event of one that is not approved yet is tentative, of one that was
 *     dropped cancelled
 * @param sites of the fleet, by name
 * @param stamp when the file is made: a later file replaces what an earlier one said
 */
record PlanCalendar(
        NightsView plan, String state, Map<String, Site> sites, Instant stamp, Planned ever) {
    private static final ProdId PRODUCT = new ProdId("-//Calm Step//plan//EN");

    /** From here on a sequence counts seconds: it has to stay below what a number may be. */
    private static final Instant FIRST = Instant.parse("2026-01-01T00:00:00Z");

    /** Whatever is moved farther than this is another night. */
    private static final Duration SAME_NIGHT = Duration.ofHours(12);

    private static final Duration CANCELLED = Duration.ofHours(1);

    /**
     * When each site's nights begin, as many as were ever planned.
     *
     * @param begins by site, night by night
     */
    record Planned(Map<String, List<Instant>> begins) {
        static Planned of(Nights nights, List<UnitPlan> units) {
            Map<String, String> siteOf =
                    units.stream().collect(Collectors.toMap(UnitPlan::device, UnitPlan::site));
            Map<String, List<Instant>> begins = new TreeMap<>();
            for (Nights.Night night : nights.nights()) {
                Map<String, Instant> tonight = new TreeMap<>();
                nights.schedule().placements().stream()
                        .filter(place -> place.night().equals(night.night()))
                        .forEach(
                                place ->
                                        concerned(place, night, siteOf)
                                                .forEach(
                                                        site ->
                                                                tonight.merge(
                                                                        site,
                                                                        place.begins(),
                                                                        PlanCalendar::earlier)));
                tonight.forEach(
                        (site, begin) ->
                                begins.computeIfAbsent(site, _ -> new ArrayList<>()).add(begin));
            }
            return new Planned(begins);
        }

        private static List<String> concerned(
                Placement place, Nights.Night night, Map<String, String> siteOf) {
            List<String> concerned = new ArrayList<>();
            Optional.ofNullable(siteOf.get(place.unit())).ifPresent(concerned::add);
            night.reached().getOrDefault(place.unit(), List.of()).stream()
                    .map(Reached::site)
                    .forEach(concerned::add);
            return concerned;
        }

        /** Of each site as many nights as the longer of both has. */
        Planned and(Planned later) {
            Map<String, List<Instant>> all = new TreeMap<>(begins);
            later.begins.forEach(
                    (site, moments) ->
                            all.merge(
                                    site,
                                    moments,
                                    (before, now) -> {
                                        List<Instant> longer = new ArrayList<>(now);
                                        if (before.size() > now.size()) {
                                            longer.addAll(
                                                    before.subList(now.size(), before.size()));
                                        }
                                        return longer;
                                    }));
            return new Planned(all);
        }
    }

    private static Instant earlier(Instant one, Instant other) {
        return one.isBefore(other) ? one : other;
    }

    /** A unit's part as a site knows it. */
    private record Visit(PlacedView part, Instant begins, Instant ends, Optional<Reached> reached) {
        boolean isAt(String site) {
            return part.site().equals(site);
        }

        String words(String site, ZoneId zone) {
            String dark = Outage.words(Duration.ofSeconds(part.darkSeconds()));
            String when =
                    "%s to %s %s".formatted(clock(begins, zone), clock(ends, zone), zone.getId());
            String behind =
                    reached.map(cut -> "cut off: " + String.join(", ", cut.devices())).orElse("");
            String serves =
                    reached.filter(cut -> !cut.serves().isEmpty())
                            .map(cut -> " (%s)".formatted(String.join("; ", cut.serves())))
                            .orElse("");
            if (!isAt(site)) {
                return "%s at %s, %s; for about %s %s%s"
                        .formatted(part.unit(), part.siteTitle(), when, dark, behind, serves);
            }
            return "%s %s > %s, %s%s%s"
                    .formatted(
                            part.unit(),
                            part.from(),
                            String.join(" > ", part.way()),
                            when,
                            part.darkSeconds() == 0
                                    ? ""
                                    : "; dark for about %s%s"
                                            .formatted(
                                                    dark,
                                                    part.serves().isEmpty()
                                                            ? ""
                                                            : ": " + part.serves()),
                            behind.isEmpty() ? "" : "; " + behind + serves);
        }

        private static LocalTime clock(Instant at, ZoneId zone) {
            return at.atZone(zone).toLocalTime();
        }
    }

    /**
     * @param site name of a site; empty means all
     * @param spans when parts are done now, by unit and part by part; what is not there is done as
     *     it was planned
     * @throws Refusal when the plan never disturbed a site of that name
     */
    String of(String site, Map<String, List<Span>> spans) {
        List<VEvent> events = new ArrayList<>();
        visits(spans)
                .forEach(
                        (name, nights) -> {
                            if (site.isEmpty() || site.equals(name)) {
                                nights.forEach((key, here) -> events.add(event(name, key, here)));
                                events.addAll(cancelled(name, nights));
                            }
                        });
        if (events.isEmpty()) {
            throw Refusal.notFound(
                    "night in the plan \"%s\" for the site".formatted(plan.plan()), site);
        }
        return written(events);
    }

    /** By site, then by the number of its night. */
    private Map<String, SequencedMap<String, List<Visit>>> visits(Map<String, List<Span>> spans) {
        Map<String, SequencedMap<String, List<Visit>>> sites = new TreeMap<>();
        ever.begins().keySet().forEach(site -> sites.put(site, new TreeMap<>()));
        Map<String, Integer> numbers = new HashMap<>();
        for (NightView night : plan.nights()) {
            Map<String, List<Visit>> tonight = new TreeMap<>();
            night.units().forEach(part -> add(part, spans, tonight));
            tonight.forEach(
                    (site, visits) -> {
                        int number = numbers.merge(site, 1, Integer::sum);
                        visits.forEach(
                                visit ->
                                        sites.computeIfAbsent(site, _ -> new TreeMap<>())
                                                .computeIfAbsent(
                                                        key(number, visit), _ -> new ArrayList<>())
                                                .add(visit));
                    });
        }
        return sites;
    }

    private static void add(
            PlacedView part, Map<String, List<Span>> spans, Map<String, List<Visit>> tonight) {
        List<Span> known = spans.getOrDefault(part.unit(), List.of());
        Span span =
                part.part() <= known.size()
                        ? known.get(part.part() - 1)
                        : new Span(part.begins(), part.ends());
        Map<String, Reached> reached =
                part.reached().stream()
                        .collect(Collectors.toMap(Reached::site, Function.identity()));
        if (!reached.containsKey(part.site())) {
            tonight.computeIfAbsent(part.site(), _ -> new ArrayList<>())
                    .add(new Visit(part, span.begins(), span.ends(), Optional.empty()));
        }
        reached.forEach(
                (site, cut) ->
                        tonight.computeIfAbsent(site, _ -> new ArrayList<>())
                                .add(
                                        new Visit(
                                                part,
                                                span.begins(),
                                                span.ends(),
                                                Optional.of(cut))));
    }

    private static String key(int number, Visit visit) {
        Duration moved = Duration.between(visit.part().begins(), visit.begins()).abs();
        return moved.compareTo(SAME_NIGHT) < 0
                ? String.valueOf(number)
                : "%s-%s".formatted(number, visit.part().unit());
    }

    private List<VEvent> cancelled(String site, Map<String, List<Visit>> nights) {
        List<Instant> begins = ever.begins().getOrDefault(site, List.of());
        List<VEvent> events = new ArrayList<>();
        for (int i = 0; i < begins.size(); i++) {
            String key = String.valueOf(i + 1);
            if (!nights.containsKey(key)) {
                VEvent event =
                        new VEvent(
                                begins.get(i),
                                begins.get(i).plus(CANCELLED),
                                "Firmware at %s: called off (plan %s)"
                                        .formatted(title(site), plan.plan()));
                events.add(marked(event, site, key, ImmutableStatus.VEVENT_CANCELLED));
            }
        }
        return events;
    }

    private String title(String site) {
        return Optional.ofNullable(sites.get(site)).map(Site::title).orElse(site);
    }

    private ZoneId zone(String site) {
        return Optional.ofNullable(sites.get(site)).map(Site::zone).orElse(ZoneOffset.UTC);
    }

    private VEvent event(String site, String key, List<Visit> here) {
        Instant begins =
                here.stream().map(Visit::begins).min(Comparator.naturalOrder()).orElseThrow();
        Instant ends = here.stream().map(Visit::ends).max(Comparator.naturalOrder()).orElseThrow();
        long units =
                here.stream()
                        .filter(visit -> visit.isAt(site))
                        .map(visit -> visit.part().unit())
                        .distinct()
                        .count();
        String what =
                units == 0
                        ? "Network at %s: cut off by work elsewhere".formatted(title(site))
                        : "Firmware at %s: %s %s"
                                .formatted(title(site), units, units == 1 ? "unit" : "units");
        VEvent event = new VEvent(begins, ends, "%s (plan %s)".formatted(what, plan.plan()));
        event.add(
                new Description(
                        here.stream()
                                .map(visit -> visit.words(site, zone(site)))
                                .collect(Collectors.joining("\n"))));
        return marked(
                event,
                site,
                key,
                switch (state) {
                    case "approved", "used" -> ImmutableStatus.VEVENT_CONFIRMED;
                    case "dropped" -> ImmutableStatus.VEVENT_CANCELLED;
                    default -> ImmutableStatus.VEVENT_TENTATIVE;
                });
    }

    /** A night that was moved is the same event at another time. */
    private VEvent marked(VEvent event, String site, String key, Status status) {
        event.replace(new DtStamp(stamp));
        event.add(new Uid("%s-%s-%s@calmstep".formatted(plan.plan(), site, key)));
        event.add(new Sequence((int) Duration.between(FIRST, stamp).toSeconds()));
        event.add(status);
        event.add(new Location(title(site)));
        return event;
    }

    /** Lines are folded at 75 octets, as the RFC has it. */
    private static String written(List<VEvent> events) {
        Calendar calendar = new Calendar();
        calendar.add(PRODUCT);
        calendar.add(ImmutableVersion.VERSION_2_0);
        calendar.add(ImmutableMethod.PUBLISH);
        events.forEach(calendar::add);
        StringWriter text = new StringWriter();
        try {
            new CalendarOutputter(false).output(calendar, text);
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
        return text.toString();
    }
}
