package calmstep.core.plan;

import static calmstep.core.known.Known.known;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Site;
import calmstep.core.forecast.NightForecast;
import calmstep.core.path.Hop;
import calmstep.core.step.UnitPlan;
import calmstep.core.wave.Held;
import calmstep.core.wave.Placement;
import calmstep.core.wave.Schedule;
import calmstep.core.wave.Wishes;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * A plan over its nights, as it is shown.
 *
 * @param begins {@code next-window}, {@code now}, or a moment
 * @param nightsAtLeast how many nights every plan of these units takes
 * @param endsAtLeast before which none ends
 * @param laterBy how much later than that this one ends, as a share of the whole time
 * @param pinned night by unit
 * @param siteOrder sites that go before others
 * @param asks for which units a person is asked at the gate: {@code each}, {@code pilots} or {@code
 *     nobody}
 * @param whenOdd what becomes of a unit that is odd behind a restart and has another one before it:
 *     {@code ask} or {@code go-on}
 */
public record NightsView(
        String plan,
        String begins,
        Instant from,
        @Nullable Instant ends,
        int nightsAtLeast,
        Instant endsAtLeast,
        double laterBy,
        Map<String, LocalDate> pinned,
        List<String> excluded,
        List<String> siteOrder,
        String asks,
        String whenOdd,
        List<NightView> nights,
        List<NowhereView> nowhere) {

    /**
     * One night.
     *
     * @param median end that half of such nights stay below
     * @param p90 end that nine of ten stay below
     * @param chance that everything ends inside its window; null where the plan does not wait for
     *     windows
     * @param decides the step that most often decides when it ends, in words; empty where none does
     * @param cutsOff what loses every way to a root at some time of it, besides the units
     *     themselves
     * @param serves who stands behind all of that, in users' words
     */
    public record NightView(
            LocalDate night,
            Instant begins,
            Instant median,
            Instant p90,
            @Nullable Double chance,
            String decides,
            List<String> cutsOff,
            List<String> serves,
            List<PlacedView> units) {}

    /**
     * A part of a unit's path at its place.
     *
     * @param part counted from 1
     * @param from what runs before it
     * @param way the releases that it goes by, other components named
     * @param begins planned
     * @param ends with its margin
     * @param likelyBy end that half of such nights stay below
     * @param chance that it ends inside its window; null where the plan does not wait for windows
     * @param outside why its site may not be disturbed then; empty where it may be
     * @param why why it does not begin earlier
     * @param heldBack whether something else than its windows and its own parts keeps it from
     *     beginning earlier
     * @param gates how often a person is asked before it: once for all its parts in the same window
     * @param darkSeconds in which it serves nobody
     * @param reached who else loses the network meanwhile, site by site
     */
    public record PlacedView(
            String unit,
            String family,
            String site,
            String siteTitle,
            String zone,
            int part,
            int parts,
            String from,
            List<String> way,
            boolean pilot,
            Instant stagedBy,
            Instant opens,
            Instant closes,
            Instant begins,
            Instant ends,
            Instant likelyBy,
            @Nullable Double chance,
            String outside,
            String why,
            boolean heldBack,
            int gates,
            String serves,
            long darkSeconds,
            List<Reached> reached) {}

    /** A unit that no window holds. */
    public record NowhereView(String unit, String site, String sentence) {}

    /**
     * @param units those of the plan
     * @param devices by name
     * @param sites by name
     * @param leftOut units that a person left out
     */
    public static NightsView of(
            String plan,
            Nights all,
            Wishes wishes,
            Start start,
            List<UnitPlan> units,
            Map<String, Device> devices,
            Map<String, Site> sites,
            Collection<String> leftOut) {
        Schedule schedule = all.schedule().without(leftOut);
        Look look =
                new Look(
                        schedule,
                        all.outside(),
                        start,
                        devices,
                        sites,
                        units.stream()
                                .collect(Collectors.toMap(UnitPlan::device, Function.identity())));
        List<NightView> nights =
                all.nights().stream()
                        .map(look::night)
                        .filter(night -> !night.units().isEmpty())
                        .toList();
        return new NightsView(
                plan,
                start.words(),
                schedule.from(),
                schedule.end().orElse(null),
                schedule.atLeast().nights(),
                schedule.atLeast().end(),
                schedule.distance(),
                wishes.nights(),
                List.copyOf(wishes.excluded()),
                wishes.siteOrder(),
                wishes.asks().toString(),
                wishes.whenOdd().toString(),
                nights,
                schedule.nowhere().stream()
                        .map(unit -> new NowhereView(unit.unit(), unit.site(), unit.sentence()))
                        .toList());
    }

    private record Look(
            Schedule schedule,
            List<Nights.Outside> outside,
            Start start,
            Map<String, Device> devices,
            Map<String, Site> sites,
            Map<String, UnitPlan> planned) {
        NightView night(Nights.Night night) {
            List<Placement> placements =
                    schedule.placements().stream()
                            .filter(p -> p.night().equals(night.night()))
                            .toList();
            NightForecast forecast = night.forecast();
            return new NightView(
                    night.night(),
                    placements.isEmpty() ? schedule.from() : placements.getFirst().begins(),
                    at(forecast.median()),
                    at(forecast.p90()),
                    start.waitsForWindows() ? forecast.chance() : null,
                    forecast.decides().map(Look::decides).orElse(""),
                    night.cutsOff(),
                    night.serves(),
                    placements.stream().map(p -> placed(p, night)).toList());
        }

        private static String decides(NightForecast.Decider d) {
            return "the %s of %s (%s), in %s of 100 such nights"
                    .formatted(d.step(), d.unit(), d.hop(), Math.round(100 * d.share()));
        }

        private Instant at(double seconds) {
            return schedule.from().plusSeconds(Math.round(seconds));
        }

        private PlacedView placed(Placement p, Nights.Night night) {
            UnitPlan unit = known(planned, p.unit());
            // What was planned stays to be read when device or site are not there any more.
            Site site =
                    Optional.ofNullable(sites.get(unit.site()))
                            .orElseGet(() -> new Site(unit.site(), unit.site(), ZoneOffset.UTC));
            List<List<UnitPlan.HopPlan>> parts = unit.parts();
            List<UnitPlan.HopPlan> hops = parts.get(p.part() - 1);
            Optional<NightForecast.Part> likely = night.forecast().find(p.unit(), p.part());
            return new PlacedView(
                    p.unit(),
                    Optional.ofNullable(devices.get(p.unit())).map(Device::family).orElse(""),
                    site.name(),
                    site.title(),
                    site.zone().getId(),
                    p.part(),
                    parts.size(),
                    from(hops),
                    hops.stream().map(h -> h.hop().step()).toList(),
                    p.pilot(),
                    p.stagedBy(),
                    p.opens(),
                    p.closes(),
                    p.begins(),
                    p.ends(),
                    likely.map(part -> at(part.medianEnd())).orElse(p.ends()),
                    start.waitsForWindows()
                            ? likely.map(NightForecast.Part::chance).orElse(1.0)
                            : null,
                    whyOutside(p),
                    p.why().sentence(),
                    !(p.why() instanceof Held.FirstWindow || p.why() instanceof Held.AfterOwnPart),
                    followsInItsWindow(p) ? 0 : 1,
                    unit.serves(),
                    UnitPlan.dark(hops).toSeconds(),
                    night.reached().getOrDefault(p.unit(), List.of()));
        }

        private String whyOutside(Placement p) {
            return outside.stream()
                    .filter(part -> part.unit().equals(p.unit()) && part.part() == p.part())
                    .map(Nights.Outside::why)
                    .findFirst()
                    .orElse("");
        }

        private boolean followsInItsWindow(Placement p) {
            return schedule.of(p.unit()).stream()
                    .anyMatch(q -> q.part() == p.part() - 1 && q.closes().equals(p.closes()));
        }
    }

    private static String from(List<UnitPlan.HopPlan> hops) {
        return hops.stream()
                .map(UnitPlan.HopPlan::hop)
                .filter(hop -> hop.component().equals(Catalogue.SYSTEM))
                .map(Hop::from)
                .findFirst()
                .orElseGet(
                        () ->
                                hops.getFirst().hop().component()
                                        + " "
                                        + hops.getFirst().hop().from());
    }
}
