package calmstep.service.plans;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Reading;
import calmstep.core.plan.NightsView;
import calmstep.core.plan.NightsView.NightView;
import calmstep.core.plan.NightsView.PlacedView;
import calmstep.core.text.RejectedText;
import calmstep.service.RunningService;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Logins;
import calmstep.service.problems.Refusal;
import calmstep.service.windows.Windows;
import java.io.IOException;
import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import net.fortuna.ical4j.data.CalendarBuilder;
import net.fortuna.ical4j.data.ParserException;
import net.fortuna.ical4j.model.Component;
import net.fortuna.ical4j.model.Property;
import net.fortuna.ical4j.model.component.VEvent;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class PlanNightsTest {
    private static final ZoneId LISBON = ZoneId.of("Europe/Lisbon");
    private static final String NIGHTLY =
            "{ name: nights, sites: [dunmere], rule: FREQ=DAILY, from: \"01:15\", until: \"04:30\""
                    + " }";

    private final Plans plans = RunningService.bean(Plans.class);
    private final String plan = RunningService.name("plan");

    @BeforeEach
    void imagesLoginAndWindowsAreThere() {
        RunningService.bean(Logins.class).set("steward", "steward", "practice-only", "test");
        for (String release : List.of("2.6.3", "2.8.2")) {
            RunningService.sql()
                    .update(
                            "insert into shelf_image (file_name, family, release, size_bytes,"
                                + " sha256, taken_in_at, taken_in_by) values (?, 'osmer-r6', ?, 1,"
                                + " '', now(), 'test') on conflict do nothing",
                            "osmer-r6c-%s.img".formatted(release),
                            release);
        }
        router("2.8.2");
        open(NIGHTLY, "soak: 20 h, at-once-a-site: 1");
    }

    /** Other tests know nothing of windows. */
    @AfterEach
    void windowsAreForgotten() {
        RunningService.sql().update("delete from windows_file");
    }

    private static void open(String rule, String limits) {
        RunningService.bean(Windows.class)
                .take(
                        "windows.yaml",
                        "windows: 1\nopen: [%s]\nlimits: { %s }\n".formatted(rule, limits),
                        "test");
    }

    private static String router(String release) {
        String name = RunningService.router();
        RunningService.keep(name, RunningService.reading(release));
        return name;
    }

    private static List<PlacedView> of(NightsView nights, String unit) {
        return nights.nights().stream()
                .flatMap(n -> n.units().stream())
                .filter(p -> p.unit().equals(unit))
                .toList();
    }

    @Test
    void lieInsideTheWindowsAndSayHowLikelyTheyAre() {
        String far = router("2.4.0");
        String near = router("2.6.3");
        plans.draft(plan, List.of(far, near), "2.8.2", "mara");
        NightsView nights = plans.nights(plan);
        assertThat(nights.nowhere()).isEmpty();
        assertThat(of(nights, far))
                .as("2.6.3 is a landing: the path is in two parts")
                .extracting(PlacedView::part)
                .containsExactly(1, 2);
        assertThat(of(nights, near)).hasSize(1);
        assertThat(nights.nights().stream().flatMap(n -> n.units().stream()))
                .isNotEmpty()
                .allSatisfy(
                        p -> {
                            LocalTime from = p.begins().atZone(LISBON).toLocalTime();
                            assertThat(from).isBetween(LocalTime.of(1, 15), LocalTime.of(4, 30));
                            assertThat(p.ends()).isBeforeOrEqualTo(p.closes());
                            assertThat(p.begins()).isAfterOrEqualTo(p.opens());
                            assertThat(Duration.between(p.begins(), p.likelyBy())).isPositive();
                            assertThat(p.likelyBy()).isBefore(p.ends());
                        });
        assertThat(nights.nights())
                .extracting(NightView::chance)
                .allSatisfy(chance -> assertThat(chance).isBetween(0.9, 1.0));
        assertThat(nights.nights().getFirst().decides()).contains("come-back");
        assertThat(plans.find(plan).changes()).as("nothing has changed since").isEmpty();
    }

    @Test
    void sayWhatAWishCostsBeforeItIsOneAndRefuseWhatCannotBe() {
        String router = router("2.6.3");
        plans.draft(plan, List.of(router), "2.8.2", "mara");
        LocalDate was = plans.nights(plan).nights().getFirst().night();
        LocalDate later = was.plusDays(3);
        WishedView asked = plans.wish(plan, pin(router, later), false, "mara");
        assertThat(asked.costs())
                .anyMatch(
                        cost -> cost.contains("another night") && cost.contains(later.toString()));
        assertThat(plans.nights(plan).nights().getFirst().night())
                .as("it was only asked")
                .isEqualTo(was);
        plans.wish(plan, pin(router, later), true, "mara");
        assertThat(plans.nights(plan).nights()).extracting(NightView::night).containsExactly(later);
        assertThat(plans.nights(plan).pinned()).containsEntry(router, later);
        assertThatThrownBy(() -> plans.wish(plan, pin(router, was.minusDays(30)), true, "mara"))
                .isInstanceOf(Refusal.class)
                .hasMessageContaining("does not fit into the night")
                .hasMessageContaining("it would fit into the night of");
        assertThatThrownBy(() -> plans.wish(plan, pin("rt-none", later), true, "mara"))
                .hasMessageContaining("rt-none");
        plans.wish(
                plan,
                new Wanted(null, null, Set.of(router), null, null, null, null, null),
                true,
                "mara");
        assertThat(plans.nights(plan).nights()).as("it is left out").isEmpty();
        assertThat(plans.nights(plan).excluded()).containsExactly(router);
        assertThat(plans.find(plan).state()).as("nothing is left to do").isEqualTo("draft");
    }

    /**
     * What somebody wished to stay as it is must not be touched by a run, whatever else the plan
     * does.
     */
    @Test
    void carryOutNothingThatWasExcluded() {
        String stays = router("2.6.3");
        String goes = router("2.6.3");
        plans.draft(plan, List.of(stays, goes), "2.8.2", "mara");
        plans.wish(
                plan,
                new Wanted(null, null, Set.of(stays), null, null, null, null, null),
                true,
                "mara");
        assertThat(plans.find(plan).units())
                .filteredOn(PlanView.PlannedUnit::leftOut)
                .extracting(PlanView.PlannedUnit::device)
                .containsExactly(stays);
        plans.approve(plan, "jon");
        assertThat(plans.use(plan).units()).extracting(u -> u.device()).containsExactly(goes);
    }

    private static Wanted pin(String unit, LocalDate night) {
        return new Wanted(Map.of(unit, night), null, null, null, null, null, null, null);
    }

    @Test
    void nameWhatFitsNowhereAndWhatWouldHelp() {
        open(
                "{ name: short, sites: [dunmere], rule: FREQ=DAILY, from: \"02:00\", until:"
                        + " \"02:05\" }",
                "pilots: 1");
        String router = router("2.6.3");
        PlanView view = plans.draft(plan, List.of(router), "2.8.2", "mara");
        assertThat(view.state()).isEqualTo("draft");
        PlanView.FindingView finding =
                view.findings().stream()
                        .filter(f -> f.key().endsWith("/fits-nowhere"))
                        .findFirst()
                        .orElseThrow();
        assertThat(finding.severity()).isEqualTo("caution");
        assertThat(finding.fact())
                .contains("longest window at dunmere is 5 min")
                .contains("would hold it");
        assertThat(
                        plans.acknowledge(
                                        plan, finding.key(), "accept", "by hand, on Sunday", "mara")
                                .state())
                .isEqualTo("ready");
    }

    @Test
    void makeThePlanStaleWhenAWindowGoesOrTheNightGoesBy() {
        String router = router("2.6.3");
        plans.draft(plan, List.of(router), "2.8.2", "mara");
        open(
                "{ name: days, sites: [dunmere], rule: FREQ=DAILY, from: \"12:00\", until:"
                        + " \"14:00\" }",
                "pilots: 1");
        PlanView stale = plans.find(plan);
        assertThat(stale.state()).isEqualTo("stale");
        assertThat(stale.changes())
                .singleElement()
                .asString()
                .contains(router)
                .contains("outside of the windows of dunmere");
        assertThatThrownBy(() -> plans.approve(plan, "jon")).hasMessageContaining("stale");
        PlanView again = plans.again(plan, "mara");
        assertThat(again.state()).isEqualTo("ready");
        assertThat(plans.nights(plan).nights().getFirst().units())
                .extracting(p -> p.begins().atZone(LISBON).getHour())
                .as("in its window: at its beginning, or at once while it is open")
                .singleElement()
                .isIn(12, 13);
    }

    @Test
    void beginNowWhereSomebodySaysSo() {
        String router = router("2.6.3");
        plans.draft(plan, List.of(router), "2.8.2", "now", "mara");
        assertThat(of(plans.nights(plan), router))
                .singleElement()
                .satisfies(p -> assertThat(p.begins()).isBefore(Instant.now().plusSeconds(120)));
        assertThatThrownBy(
                        () ->
                                plans.draft(
                                        RunningService.name("plan"),
                                        List.of(router),
                                        "2.8.2",
                                        "soon",
                                        "mara"))
                .hasMessageContaining("next-window")
                .hasMessageContaining("soon");
    }

    /** Somebody says when: outside a window that is a caution, inside of one it is none. */
    @Test
    void thatBeginOutsideOfWindowsOrInAFreezeAreACautionThatNeedsAReason() {
        Instant noon = LocalDate.now(LISBON).plusDays(3).atTime(12, 0).atZone(LISBON).toInstant();
        String router = router("2.6.3");
        PlanView view = plans.draft(plan, List.of(router), "2.8.2", noon.toString(), "mara");
        PlanView.FindingView outside =
                view.findings().stream()
                        .filter(f -> f.key().contains("/outside-windows-"))
                        .findFirst()
                        .orElseThrow();
        assertThat(outside.severity()).isEqualTo("caution");
        assertThat(outside.fact()).contains("dunmere has no window then; its next one opens at");
        assertThatThrownBy(() -> plans.acknowledge(plan, outside.key(), "accept", "", "mara"))
                .hasMessageContaining("Say why");
        assertThat(plans.nights(plan).nights())
                .singleElement()
                .satisfies(night -> assertThat(night.chance()).as("of no window").isNull());
        plans.acknowledge(plan, outside.key(), "accept", "the line is down anyway", "mara");
        plans.approve(plan, "jon");
        assertThat(plans.use(plan).timetable().orElseThrow().units().get(router))
                .satisfies(
                        entry ->
                                assertThat(entry.turns().getFirst().outside())
                                        .contains("no window then"));

        Instant inside = noon.minus(Duration.ofHours(10));
        assertThat(drafted(List.of(router("2.6.3")), inside).findings())
                .as("at two in the morning a window is open")
                .noneMatch(f -> f.key().contains("/outside-windows-"));
        frozen(noon.minus(Duration.ofHours(20)), noon);
        assertThat(drafted(List.of(router("2.6.3")), inside).findings())
                .filteredOn(f -> f.key().contains("/outside-windows-"))
                .singleElement()
                .satisfies(f -> assertThat(f.fact()).contains("the freeze \"regatta\""));
    }

    /** What holds on the day of the draft may not hold in the night. */
    @Test
    void sayWhichLicenceEndsBeforeTheTurnOfItsUnitIsOver() {
        String router = router("2.6.3");
        LocalDate tomorrow = LocalDate.now(ZoneOffset.UTC).plusDays(1);
        RunningService.keep(
                router,
                RunningService.reading(
                        "2.6.3", new Reading.Fact("licence", "routing", tomorrow.toString())));
        String atOnce = RunningService.name("plan");
        assertThat(plans.draft(atOnce, List.of(router), "2.8.2", "now", "mara").findings())
                .as("it holds when its turn is over, but not for long")
                .extracting(PlanView.FindingView::key)
                .contains(router + "/licence-ends-routing")
                .noneMatch(key -> key.contains("/ends-before-its-turn"));
        plans.draft(plan, List.of(router), "2.8.2", "mara");
        plans.wish(plan, pin(router, tomorrow.plusDays(2)), true, "mara");
        assertThat(plans.find(plan).changes()).isEmpty();
        assertThat(plans.find(plan).state()).as("somebody must say so first").isEqualTo("draft");
        assertThat(plans.find(plan).findings())
                .filteredOn(f -> f.key().equals(router + "/ends-before-its-turn-licence-routing"))
                .singleElement()
                .satisfies(
                        f -> {
                            assertThat(f.severity()).isEqualTo("caution");
                            assertThat(f.fact())
                                    .contains("ends on " + tomorrow)
                                    .contains("before its turn is over at");
                        });
    }

    private PlanView drafted(List<String> routers, Instant begins) {
        return plans.draft(
                RunningService.name("plan"), routers, "2.8.2", begins.toString(), "mara");
    }

    private static void frozen(Instant from, Instant until) {
        RunningService.bean(Windows.class)
                .take(
                        "windows.yaml",
                        "windows: 1\nopen: [%s]\nfreezes: [{ name: regatta, from: \"%s\", until: \"%s\" }]\n"
                                .formatted(
                                        NIGHTLY,
                                        from.atZone(LISBON).toLocalDateTime(),
                                        until.atZone(LISBON).toLocalDateTime()),
                        "test");
    }

    @Test
    void aMomentThatHasGoneByIsRefusedAndAPlanThatAsksNobodySaysSo() {
        String router = router("2.6.3");
        assertThatThrownBy(() -> drafted(List.of(router), Instant.now().minusSeconds(3600)))
                .hasMessageContaining("still to come");
        plans.draft(plan, List.of(router), "2.8.2", "mara");
        Wanted nobody = new Wanted(null, null, null, null, null, null, "nobody", null);
        assertThat(plans.wish(plan, nobody, true, "mara").costs().toString())
                .startsWith("[somebody has to accept: Nobody is asked at the gates");
        assertThat(plans.find(plan).state()).isEqualTo("draft");
        assertThat(plans.acknowledge(plan, "/asks-nobody", "accept", "a lab", "mara").state())
                .isEqualTo("ready");
    }

    private List<VEvent> calendar(String site) throws IOException, ParserException {
        String text = RunningService.bean(PlanCalendars.class).of(plan, site);
        assertThat(text.lines())
                .as("folded")
                .allMatch(line -> line.getBytes(StandardCharsets.UTF_8).length <= 75);
        return new CalendarBuilder().build(new StringReader(text)).getComponents(Component.VEVENT);
    }

    @Test
    void areACalendarThatOthersCanRead() throws IOException, ParserException {
        String one = router("2.6.3");
        String other = router("2.6.3");
        plans.draft(plan, List.of(one, other), "2.8.2", "mara");
        NightsView nights = plans.nights(plan);
        List<VEvent> events = calendar("dunmere");
        assertThat(events).as("one a night and site").hasSize(nights.nights().size());
        assertThat(value(events.getFirst(), Property.STATUS)).isEqualTo("TENTATIVE");
        assertThat(Integer.parseInt(value(events.getFirst(), Property.SEQUENCE))).isPositive();
        VEvent first = events.getFirst();
        assertThat(value(first, Property.SUMMARY)).contains("Dunmere").contains(plan);
        assertThat(value(first, Property.DTSTART))
                .as("in UTC")
                .isEqualTo(
                        DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmmss'Z'", Locale.ROOT)
                                .withZone(ZoneOffset.UTC)
                                .format(nights.nights().getFirst().begins()));
        assertThat(value(first, Property.DESCRIPTION))
                .contains(nights.nights().getFirst().units().getFirst().unit())
                .contains("2.6.3 > 2.8.2");
        assertThatThrownBy(() -> calendar("eskholm"))
                .isInstanceOf(Refusal.class)
                .hasMessageContaining("eskholm");
    }

    /** A site at which nothing is changed has no network all the same. */
    @Test
    void areToldToWhoIsCutOffAndNightsThatAreNoneAnyMoreAreCancelled()
            throws IOException, ParserException {
        open(NIGHTLY, "pilots: 1");
        String one =
                RunningService.router("links: [%s]".formatted(RunningService.router("root: true")));
        RunningService.keep(one, RunningService.reading("2.6.3"));
        String other = router("2.6.3");
        String behind = behindAtEskholm(one);
        plans.draft(plan, List.of(one, other), "2.8.2", "mara");
        assertThat(plans.nights(plan).nights()).as("the pilot goes first").hasSize(2);
        assertThat(calendar("eskholm"))
                .singleElement()
                .satisfies(
                        event -> {
                            assertThat(value(event, Property.SUMMARY))
                                    .startsWith("Network at Eskholm: cut off by work elsewhere");
                            assertThat(value(event, Property.DESCRIPTION))
                                    .contains(one + " at Dunmere", "cut off: " + behind);
                        });
        Map<String, String> before = statusByUid("dunmere");
        assertThat(before).hasSize(2).doesNotContainValue("CANCELLED");
        plans.wish(
                plan,
                new Wanted(null, null, Set.of(other), null, null, null, null, null),
                true,
                "mara");
        assertThat(statusByUid("dunmere"))
                .as("the same two events, one of them cancelled")
                .containsOnlyKeys(before.keySet())
                .containsValues("TENTATIVE", "CANCELLED");
        plans.drop(plan, "mara");
        assertThat(statusByUid("dunmere").values()).containsOnly("CANCELLED");
    }

    /** Whoever looks at an old plan may see what it was, and is told what to do. */
    @Test
    void ofADeviceThatWasRetiredSinceAreStillShownAndAreNotCarriedOut() {
        String stays = router("2.6.3");
        String goes = router("2.6.3");
        plans.draft(plan, List.of(stays, goes), "2.8.2", "mara");
        RunningService.sql().update("update device set retired_at = now() where name = ?", goes);
        assertThat(of(plans.nights(plan), goes)).hasSize(1);
        assertThat(plans.find(plan).state()).isEqualTo("stale");
        assertThat(plans.find(plan).changes())
                .as("a line a cause")
                .containsOnlyOnce(goes + " is not in the inventory any more")
                .noneMatch(change -> change.contains(goes) && change.contains("nothing to do"));
        assertThat(RunningService.bean(PlanCalendars.class).of(plan, "")).contains(goes);
        assertThatThrownBy(
                        () ->
                                plans.wish(
                                        plan,
                                        new Wanted(
                                                null,
                                                null,
                                                Set.of(stays),
                                                null,
                                                null,
                                                null,
                                                null,
                                                null),
                                        true,
                                        "mara"))
                .isInstanceOf(Refusal.class)
                .hasMessageContaining(goes + " is not in the inventory any more");
        assertThat(plans.again(plan, "mara").units())
                .extracting(PlanView.PlannedUnit::device)
                .containsExactly(stays);
    }

    private static String behindAtEskholm(String device) {
        String name = RunningService.name("rt");
        RunningService.bean(Fleet.class)
                .take(
                        "inventory.yaml",
                        RunningService.inventory(
                                        name, "127.78.1.1", "links: [%s]".formatted(device))
                                .replace("dunmere", "eskholm")
                                .replace("Dunmere", "Eskholm"),
                        InventoryText.Format.YAML,
                        false,
                        "test");
        return name;
    }

    private Map<String, String> statusByUid(String site) throws IOException, ParserException {
        return calendar(site).stream()
                .collect(
                        Collectors.toMap(
                                event -> value(event, Property.UID),
                                event -> value(event, Property.STATUS)));
    }

    private static String value(VEvent event, String property) {
        return event.getRequiredProperty(property).getValue();
    }

    @Test
    void waitForAWindowsFileAndAWrongOneChangesNothing() {
        windowsAreForgotten();
        String router = router("2.6.3");
        assertThat(plans.draft(plan, List.of(router), "2.8.2", "mara").state())
                .as("windows are not needed")
                .isEqualTo("ready");
        assertThatThrownBy(() -> plans.nights(plan)).hasMessageContaining("Import a windows file");
        assertThatThrownBy(
                        () ->
                                open(
                                        "{ name: nights, sites: [dunmor], rule: FREQ=DAILY, from:"
                                                + " \"01:15\", until: \"04:30\" }",
                                        "pilots: 1"))
                .isInstanceOf(RejectedText.class)
                .hasMessageContaining("dunmere");
        assertThat(RunningService.bean(Windows.class).current()).isEmpty();
    }
}
