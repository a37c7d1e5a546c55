package calmstep.service.plans;

import calmstep.core.plan.NightsView;
import calmstep.core.plan.NightsView.NightView;
import calmstep.core.plan.NightsView.PlacedView;
import calmstep.service.problems.Refusal;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.Description;
import net.fortuna.ical4j.model.property.DtStamp;
import net.fortuna.ical4j.model.property.Location;
import net.fortuna.ical4j.model.property.ProdId;
import net.fortuna.ical4j.model.property.Uid;
import net.fortuna.ical4j.model.property.immutable.ImmutableMethod;
import net.fortuna.ical4j.model.property.immutable.ImmutableVersion;

/**
 * A plan's nights as a calendar (RFC 5545): one event for each site and night. Times are in UTC,
 * which every calendar shows by its own clock.
 */
final class PlanCalendar {
    private static final ProdId PRODUCT = new ProdId("-//Calm Step//plan//EN");

    private PlanCalendar() {}

    /**
     * @param site name of a site; empty means all
     * @param stamp when the file is made
     * @throws Refusal when the plan disturbs no site of that name
     */
    static String of(NightsView plan, String site, Instant stamp) {
        List<VEvent> events = new ArrayList<>();
        for (NightView night : plan.nights()) {
            Map<String, List<PlacedView>> sites =
                    night.units().stream()
                            .filter(u -> site.isEmpty() || u.site().equals(site))
                            .collect(
                                    Collectors.groupingBy(
                                            PlacedView::site, TreeMap::new, Collectors.toList()));
            sites.values().forEach(here -> events.add(event(plan, night, here, stamp)));
        }
        if (events.isEmpty()) {
            throw Refusal.notFound(
                    "night in the plan \"%s\" for the site".formatted(plan.plan()), site);
        }
        return written(events);
    }

    private static String written(List<VEvent> events) {
        Calendar calendar = new Calendar();
        calendar.add(PRODUCT);
        calendar.add(ImmutableVersion.VERSION_2_0);
        calendar.add(ImmutableMethod.PUBLISH);
        events.forEach(calendar::add);
        return calendar.toString();
    }

    private static VEvent event(
            NightsView plan, NightView night, List<PlacedView> here, Instant stamp) {
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
                                        here.size(),
                                        here.size() == 1 ? "unit" : "units",
                                        plan.plan()));
        event.replace(new DtStamp(stamp));
        event.add(new Uid("%s-%s-%s@calmstep".formatted(plan.plan(), first.site(), night.night())));
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
