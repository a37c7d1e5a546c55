package calmstep.service.plans;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A plan over its nights, as the interface shows it.
 *
 * @param begins        {@code next-window}, {@code now}, or a moment
 * @param nightsAtLeast how many nights every plan of these units takes
 * @param endsAtLeast   before which none ends
 * @param laterBy       how much later than that this one ends, as a share of the whole time
 * @param pinned        night by unit
 * @param siteOrder     sites that go before others
 */
public record NightsView(String plan, String begins, Instant from, @Nullable Instant ends, int nightsAtLeast, Instant endsAtLeast, double laterBy, Map<String, LocalDate> pinned, List<String> excluded,
        List<String> siteOrder, List<NightView> nights, List<NowhereView> nowhere) {

    /**
     * One night.
     *
     * @param median  end that half of such nights stay below
     * @param p90     end that nine of ten stay below
     * @param chance  that everything ends inside its window
     * @param decides the step that most often decides when it ends, in words; empty where none does
     * @param cutsOff what loses every way to a root at some time of it, besides the units themselves
     * @param serves  who stands behind all of that, in users' words
     */
    public record NightView(LocalDate night, Instant begins, Instant median, Instant p90, double chance, String decides, List<String> cutsOff, List<String> serves, List<PlacedView> units) {}

    /**
     * A part of a unit's path at its place.
     *
     * @param part     counted from 1
     * @param from     what runs before it
     * @param way      the releases that it goes by, other components named
     * @param begins   planned
     * @param ends     with its margin
     * @param likelyBy end that half of such nights stay below
     * @param chance   that it ends inside its window
     * @param why      why it does not begin earlier
     * @param heldBack whether something else than its windows and its own parts keeps it from beginning earlier
     * @param gates    how often a person is asked
     */
    public record PlacedView(String unit, String family, String site, String siteTitle, String zone, int part, int parts, String from, List<String> way, boolean pilot, Instant stagedBy, Instant opens, Instant closes,
            Instant begins, Instant ends, Instant likelyBy, double chance, String why, boolean heldBack, int gates, String serves) {}

    /** A unit that no window holds. */
    public record NowhereView(String unit, String site, String sentence) {}

    /** What other wishes come to, and what that costs against the nights before, as sentences. */
    public record WishedView(NightsView nights, List<String> costs) {}
}
