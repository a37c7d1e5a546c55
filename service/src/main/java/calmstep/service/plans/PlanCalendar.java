package calmstep.service.plans;

import calmstep.core.plan.NightsView;
import calmstep.core.plan.NightsView.NightView;
import calmstep.core.plan.NightsView.PlacedView;
import calmstep.service.problems.Refusal;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import net.fortuna.ical4j.data.CalendarOutputter;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.Description;
import net.fortuna.ical4j.model.property.DtStamp;
import net.fortuna.ical4j.model.property.Location;
import net.fortuna.ical4j.model.property.ProdId;
import net.fortuna.ical4j.model.property.Sequence;
import net.fortuna.ical4j.model.property.Uid;
import net.fortuna.ical4j.model.property.immutable.ImmutableMethod;
import net.fortuna.ical4j.model.property.immutable.ImmutableStatus;
import net.fortuna.ical4j.model.property.immutable.ImmutableVersion;

/**
 * A plan's nights as a calendar (RFC 5545): one event for each site and night. Times are in UTC,
 * which every calendar shows by its own clock.
 */
final class PlanCalendar {
    private static final ProdId PRODUCT = new ProdId("-//Calm Step//plan//EN");

    /** A file made later counts for more; whole minutes stay below what a number may be. */
    private static final int SECONDS_OF_A_SEQUENCE = 60;

    private PlanCalendar() {}

    /**
     * @param site name of a site; empty means all
     * @param state of the plan: an event of one that is not approved yet is tentative
     * @param stamp when the file is made: a later file replaces what an earlier one said
     * @throws Refusal when the plan disturbs no site of that name
     */
    static String of(NightsView plan, String site, String state, Instant stamp) {
        List<VEvent> events = new ArrayList<>();
        Map<String, Integer> numbers = new TreeMap<>();
        for (NightView night : plan.nights()) {
            Map<String, List<PlacedView>> sites =
                    night.units().stream()
                            .filter(u -> site.isEmpty() || u.site().equals(site))
                            .collect(
                                    Collectors.groupingBy(
                                            PlacedView::site, TreeMap::new, Collectors.toList()));
            sites.forEach(
                    (name, here) ->
                            events.add(
                                    event(
                                            plan,
                                            here,
                                            numbers.merge(name, 1, Integer::sum),
                                            state,
                                            stamp)));
        }
        if (events.isEmpty()) {
            throw Refusal.notFound(
                    "night in the plan \"%s\" for the site".formatted(plan.plan()), site);
        }
        return written(events);
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

    private static VEvent event(
            NightsView plan, List<PlacedView> here, int number, String state, Instant stamp) {
        long units = here.stream().map(PlacedView::unit).distinct().count();
        PlacedView first = here.getFirst();
        Instant begins =
                here.stream().map(PlacedView::begins).min(Comparator.naturalOrder()).orElseThrow();
        Instant ends =
                here.stream().map(PlacedView::ends).max(Comparator.naturalOrder()).orElseThrow();
        VEvent event =
                new VEvent(
                        begins,
                        ends,
                        "Firmware at %s: %d %s (plan %s)"
                                .formatted(
                                        first.siteTitle(),
                                        units,
                                        units == 1 ? "unit" : "units",
                                        plan.plan()));
        event.replace(new DtStamp(stamp));
        // A night that was moved is the same event at another time.
        event.add(new Uid("%s-%s-%d@calmstep".formatted(plan.plan(), first.site(), number)));
        event.add(new Sequence((int) (stamp.getEpochSecond() / SECONDS_OF_A_SEQUENCE)));
        event.add(
                state.equals("approved") || state.equals("used")
                        ? ImmutableStatus.VEVENT_CONFIRMED
                        : ImmutableStatus.VEVENT_TENTATIVE);
        event.add(new Location(first.siteTitle()));
        event.add(
                new Description(
                        here.stream()
                                .map(
                                        u ->
                                                "%s %s > %s, %s to %s %s%s"
                                                        .formatted(
                                                                u.unit(),
                                                                u.from(),
                                                                String.join(" > ", u.way()),
                                                                local(u.begins(), u),
                                                                local(u.ends(), u),
                                                                u.zone(),
                                                                u.serves().isEmpty()
                                                                        ? ""
                                                                        : "; dark for "
                                                                                + u.serves()))
                                .collect(Collectors.joining("\n"))));
        return event;
    }

    private static String local(Instant at, PlacedView unit) {
        return at.atZone(ZoneId.of(unit.zone())).toLocalTime().toString();
    }
}
