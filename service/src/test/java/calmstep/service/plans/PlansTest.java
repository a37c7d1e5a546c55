package calmstep.service.plans;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.core.fleet.Reading;
import calmstep.core.path.Preference;
import calmstep.core.plan.WayWanted;
import calmstep.service.RunningService;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Logins;
import calmstep.service.plans.PlanView.FindingView;
import calmstep.service.plans.PlanView.PlannedUnit;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class PlansTest {
    private final Plans plans = RunningService.bean(Plans.class);
    private final String plan = RunningService.name("plan");

    @BeforeEach
    void imagesAndLoginAreThere() {
        RunningService.bean(Logins.class).set("steward", "steward", "practice-only", "test");
        RunningService.sql()
                .update(
                        "insert into shelf_image (file_name, family, release, size_bytes, sha256,"
                            + " taken_in_at, taken_in_by) select 'osmer-r6c-2.8.2.img', 'osmer-r6',"
                            + " '2.8.2', 1, '', now(), 'test' on conflict do nothing");
        RunningService.sql()
                .update(
                        "insert into shelf_image (file_name, family, release, size_bytes, sha256,"
                            + " taken_in_at, taken_in_by) select 'osmer-r6c-2.6.3.img', 'osmer-r6',"
                            + " '2.6.3', 1, '', now(), 'test' on conflict do nothing");
    }

    private static String readRouter(String release) {
        String router = RunningService.router();
        RunningService.keep(router, RunningService.reading(release));
        return router;
    }

    private static String routerWithUnsavedChanges() {
        Reading clean = RunningService.reading("2.6.3");
        String router = RunningService.router();
        RunningService.keep(
                router,
                new Reading(
                        clean.takenAt(),
                        clean.identity(),
                        clean.components(),
                        clean.boot(),
                        clean.bootMark(),
                        clean.volumes(),
                        true,
                        clean.configurationSha256(),
                        clean.facts()));
        return router;
    }

    private static FindingView caution(PlanView view, String device) {
        return view.findings().stream()
                .filter(f -> f.device().equals(device) && f.severity().equals("caution"))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void aPlanWithoutConcernsIsReadyAtOnceAndItsHopsLeadByTheSteppingStone() {
        PlanView view = plans.draft(plan, List.of(readRouter("2.4.0")), "2.8.2", "mara");
        assertThat(view.state()).isEqualTo("ready");
        assertThat(view.units())
                .singleElement()
                .satisfies(
                        unit -> {
                            assertThat(unit.hops())
                                    .extracting(h -> h.hop().to())
                                    .containsExactly("2.6.3", "2.8.2");
                            assertThat(unit.hops().getLast().steps())
                                    .as("only the last hop tidies")
                                    .contains("tidy");
                            assertThat(unit.hops().getFirst().steps()).doesNotContain("tidy");
                        });
        assertThat(view.findings())
                .filteredOn(f -> f.severity().equals("note"))
                .extracting(FindingView::fact)
                .anyMatch(f -> f.contains("settings only from 2.6.3"));
    }

    @Test
    void aCautionBarsApprovalUntilItIsAcknowledgedWithOneOfItsChoices() {
        String router = routerWithUnsavedChanges();
        PlanView drafted = plans.draft(plan, List.of(router), "2.8.2", "mara");
        assertThat(drafted.state()).isEqualTo("draft");
        FindingView unsaved = caution(drafted, router);
        assertThatThrownBy(() -> plans.approve(plan, "jon")).hasMessageContaining("not ready");
        assertThatThrownBy(() -> plans.acknowledge(plan, unsaved.key(), "accept", "", "mara"))
                .hasMessageContaining("save-first")
                .hasMessageContaining("accept");
        assertThatThrownBy(() -> plans.acknowledge(plan, "rt-x/none", "accept", "", "mara"))
                .hasMessageContaining("rt-x/none");

        PlanView ready =
                plans.acknowledge(plan, unsaved.key(), "save-first", "they are wanted", "mara");
        assertThat(ready.state()).isEqualTo("ready");
        assertThat(caution(ready, router).answer())
                .isNotNull()
                .satisfies(
                        a ->
                                assertThat(List.of(a.choice(), a.reason(), a.by()))
                                        .containsExactly("save-first", "they are wanted", "mara"));
        assertThatThrownBy(() -> plans.acknowledge(plan, unsaved.key(), "leave-out", "", "jon"))
                .as("a decision stands")
                .hasMessageContaining("acknowledged already");
        plans.approve(plan, "jon");
        assertThat(plans.use(plan).units())
                .singleElement()
                .satisfies(unit -> assertThat(unit.saveFirst()).isTrue());
    }

    @Test
    void aDeviceThatIsLeftOutIsNotCarriedOutAndItsStopsNoLongerBar() {
        String good = readRouter("2.6.3");
        String odd = routerWithUnsavedChanges();
        PlanView drafted = plans.draft(plan, List.of(good, odd), "2.8.2", "mara");
        PlanView view =
                plans.acknowledge(
                        plan, caution(drafted, odd).key(), "leave-out", "another night", "mara");
        assertThat(view.state()).isEqualTo("ready");
        assertThat(view.units())
                .filteredOn(PlannedUnit::leftOut)
                .extracting(PlannedUnit::device)
                .containsExactly(odd);
        plans.approve(plan, "jon");
        assertThat(plans.use(plan).units()).extracting(u -> u.device()).containsExactly(good);
    }

    @Test
    void aPlanThatChangesNothingIsNeverReady() {
        String there = readRouter("2.8.2");
        assertThat(plans.draft(plan, List.of(there), "2.8.2", "mara").state()).isEqualTo("draft");
        assertThatThrownBy(() -> plans.approve(plan, "jon"))
                .hasMessageContaining("it changes nothing");
        String odd = routerWithUnsavedChanges();
        String onlyOne = RunningService.name("plan");
        plans.acknowledge(
                onlyOne,
                caution(plans.draft(onlyOne, List.of(odd), "2.8.2", "mara"), odd).key(),
                "leave-out",
                "",
                "mara");
        assertThatThrownBy(() -> plans.approve(onlyOne, "jon"))
                .as("everything was left out")
                .hasMessageContaining("it changes nothing");
    }

    @Test
    void aStopCannotBeTalkedAway() {
        String unread = RunningService.router();
        PlanView view = plans.draft(plan, List.of(unread), "2.8.2", "mara");
        FindingView stop =
                view.findings().stream()
                        .filter(f -> f.severity().equals("stop"))
                        .findFirst()
                        .orElseThrow();
        assertThat(stop.fact()).contains("never read");
        assertThatThrownBy(() -> plans.acknowledge(plan, stop.key(), "accept", "", "mara"))
                .hasMessageContaining("one can say [leave-out]");
        assertThatThrownBy(() -> plans.acknowledge(plan, stop.key(), "shrug", "", "mara"))
                .hasMessageContaining("shrug");
    }

    /** One device that must stay does not hold up the others. */
    @Test
    void aUnitWithAStopIsLeftOutAndTheOthersGo() {
        String good = readRouter("2.6.3");
        String unread = RunningService.router();
        plans.draft(plan, List.of(good, unread), "2.8.2", "mara");
        assertThat(plans.acknowledge(plan, unread + "/never-read", "leave-out", "", "mara").state())
                .isEqualTo("ready");
        plans.approve(plan, "jon");
        assertThat(plans.use(plan).units()).extracting(u -> u.device()).containsExactly(good);
    }

    @Test
    void goingDownIsAcknowledgedWithAReasonOrNotAtAll() {
        String router = readRouter("2.8.2");
        PlanView view = plans.draft(plan, List.of(router), "2.6.3", "mara");
        assertThat(view.state()).isEqualTo("draft");
        String down = router + "/goes-down-2.6.3";
        assertThatThrownBy(() -> plans.acknowledge(plan, down, "accept", "  ", "mara"))
                .hasMessageContaining("Say why");
        plans.acknowledge(plan, down, "accept", "the neighbours cannot speak to 2.8", "mara");
        assertThat(
                        plans.acknowledge(
                                        plan,
                                        router + "/exposed-NF-26-04-2.6.3",
                                        "accept",
                                        "the link is walled in",
                                        "mara")
                                .state())
                .isEqualTo("ready");
    }

    /** The box that answers is of another revision than the one that somebody wrote down. */
    @Test
    void anotherRevisionThanTheWrittenOneIsAStopUntilItIsTakenOverByOneWord() {
        String router = RunningService.router();
        Reading read = RunningService.reading("2.6.3");
        RunningService.keep(
                router,
                new Reading(
                        read.takenAt(),
                        new Reading.Identity("rt", "R6-4", "B", "OS6-1"),
                        read.components(),
                        read.boot(),
                        read.bootMark(),
                        read.volumes(),
                        false,
                        read.configurationSha256(),
                        read.facts()));
        PlanView view = plans.draft(plan, List.of(router), "2.6.3", "mara");
        assertThat(view.findings())
                .filteredOn(f -> f.key().equals(router + "/identity"))
                .singleElement()
                .satisfies(f -> assertThat(f.severity()).isEqualTo("stop"));
        Fleet fleet = RunningService.bean(Fleet.class);
        assertThat(fleet.takeOverAsRead(router, "exchanged in May", "mara").written())
                .satisfies(written -> assertThat(written.hardware().revision()).isEqualTo("B"));
        assertThat(plans.again(plan, "mara").findings())
                .noneMatch(f -> f.key().equals(router + "/identity"));
        assertThatThrownBy(() -> fleet.takeOverAsRead(router, "", "mara"))
                .hasMessageContaining("nothing to take over");
    }

    /** What was looked at side by side can be planned. */
    @Test
    void thePathThatWasChosenIsTheOneThatIsPlanned() {
        String router = readRouter("2.4.0");
        PlanView proven =
                plans.draft(
                        plan,
                        List.of(router),
                        "2.8.2",
                        new WayWanted(Preference.PROVEN, 1),
                        "next-window",
                        "mara");
        assertThat(proven.prefer()).isEqualTo("proven");
        assertThat(plans.file(plan)).contains("prefer: proven").contains("alternative: 1");
        PlanView best = plans.draft(RunningService.name("plan"), List.of(router), "2.8.2", "mara");
        boolean has =
                proven.findings().stream().noneMatch(f -> f.key().endsWith("/no-such-alternative"));
        assertThat(proven.units().getFirst().hops().equals(best.units().getFirst().hops()))
                .as("an alternative is another path, or it is said that there is none")
                .isNotEqualTo(has);
        assertThat(plans.find(plan).changes()).as("worked out again the same way").isEmpty();
    }

    /** A cause is told once: a hundred devices that were read meanwhile are no hundred lines. */
    @Test
    void aPlanIsStaleByCausesNotByDevices() {
        List<String> routers =
                List.of(
                        RunningService.router("runs: { system: 2.6.3 }"),
                        RunningService.router("runs: { system: 2.6.3 }"),
                        RunningService.router("runs: { system: 2.6.3 }"));
        plans.draft(plan, routers, "2.8.2", "mara");
        routers.forEach(name -> RunningService.keep(name, RunningService.reading("2.6.3")));
        assertThat(plans.find(plan).changes())
                .as("their first reading is no other configuration")
                .noneMatch(change -> change.contains("configuration"))
                .filteredOn(change -> change.contains("never read"))
                .singleElement()
                .satisfies(change -> assertThat(change).contains(routers.getLast()));
    }

    @Test
    void unitsThatCannotReachTheReleaseAreNamedWithTheRuleAndTheHighestThatCan() {
        String without = RunningService.router("entitled: false");
        RunningService.keep(without, RunningService.reading("2.4.0"));
        PlanView view = plans.draft(plan, List.of(without), "2.8.2", "mara");
        assertThat(view.findings())
                .filteredOn(f -> f.severity().equals("stop"))
                .singleElement()
                .satisfies(
                        f ->
                                assertThat(f.fact() + f.remedy())
                                        .contains("entitlement")
                                        .contains("It can reach 2."));
    }

    @Test
    void aPlanIsUsedOnceByWhoeverComesFirst() throws Exception {
        plans.draft(plan, List.of(readRouter("2.6.3")), "2.8.2", "mara");
        plans.approve(plan, "jon");
        Callable<Boolean> use =
                () -> {
                    try {
                        plans.use(plan);
                        return true;
                    } catch (RuntimeException refused) {
                        return false;
                    }
                };
        try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
            int used = 0;
            for (Future<Boolean> one : threads.invokeAll(java.util.Collections.nCopies(8, use))) {
                used += one.get() ? 1 : 0;
            }
            assertThat(used).isEqualTo(1);
        }
        assertThatThrownBy(() -> plans.drop(plan, "jon"))
                .as("a used plan stays")
                .hasMessageContaining("is used");
    }

    @Test
    void namesAreTakenOnceAndADroppedPlanIsOver() {
        String router = readRouter("2.6.3");
        plans.draft(plan, List.of(router), "2.8.2", "mara");
        assertThatThrownBy(() -> plans.draft(plan, List.of(router), "2.8.2", "jon"))
                .hasMessageContaining("already");
        plans.drop(plan, "mara");
        assertThatThrownBy(() -> plans.approve(plan, "jon"))
                .hasMessageContaining("is dropped; expected ready");
        assertThatThrownBy(() -> plans.find("no-such-plan")).hasMessageContaining("no-such-plan");
        assertThatThrownBy(
                        () ->
                                plans.draft(
                                        RunningService.name("plan"),
                                        List.of(router, "rt-nowhere"),
                                        "2.8.2",
                                        "mara"))
                .hasMessageContaining("rt-nowhere");
    }

    @Test
    void aPlanGoesStaleWithWhatItWasWorkedOutFromAndSaysWhatChanged() {
        String router = readRouter("2.4.0");
        String odd = routerWithUnsavedChanges();
        PlanView drafted = plans.draft(plan, List.of(router, odd), "2.8.2", "mara");
        plans.acknowledge(
                plan, caution(drafted, odd).key(), "save-first", "they are wanted", "mara");
        plans.approve(plan, "jon");
        RunningService.keep(router, RunningService.reading("2.4.0"));
        assertThat(plans.find(plan).state())
                .as("read again, and nothing is otherwise")
                .isEqualTo("approved");

        RunningService.keep(router, RunningService.reading("2.6.3"));
        PlanView stale = plans.find(plan);
        assertThat(stale.state()).isEqualTo("stale");
        assertThat(stale.changes())
                .anyMatch(
                        c ->
                                c.equals(
                                        "%s goes 2.6.3 > 2.8.2 now, was to go 2.4.0 > 2.6.3 > 2.8.2"
                                                .formatted(router)))
                .anyMatch(c -> c.startsWith("no longer so: "));
        assertThatThrownBy(() -> plans.use(plan))
                .hasMessageContaining("is stale")
                .hasMessageContaining("calmstep plan again");

        PlanView again = plans.again(plan, "mara");
        assertThat(again.changes()).isEmpty();
        assertThat(again.state())
                .as("approval is gone, what was said to an equal finding is not")
                .isEqualTo("ready");
        assertThat(caution(again, odd).answer())
                .isNotNull()
                .satisfies(a -> assertThat(a.reason()).isEqualTo("they are wanted"));
        assertThat(plans.find(plan + "~1").state()).isEqualTo("dropped");
        assertThat(plans.compare(plan + "~1", plan)).isEqualTo(stale.changes());
        assertThat(plans.compare(plan, plan)).isEmpty();
        plans.approve(plan, "jon");
        assertThat(plans.use(plan).units()).hasSize(2);
        assertThat(plans.find(plan).changes())
                .as("a plan that is over does not go stale")
                .isEmpty();
    }

    @Test
    void anotherOneApprovesWhereThereIsAnother() {
        plans.draft(plan, List.of(readRouter("2.6.3")), "2.8.2", "mara");
        assertThatThrownBy(() -> plans.approve(plan, "mara"))
                .as("there is an admin besides")
                .hasMessageContaining("mara wrote this plan; another one");
        assertThat(plans.approve(plan, "jon").approvedBy()).isEqualTo("jon");
    }

    @Test
    void everyDecisionLeavesAnEventWithItsPerson() {
        plans.draft(plan, List.of(readRouter("2.6.3")), "2.8.2", "mara");
        plans.approve(plan, "jon");
        assertThat(
                        RunningService.sql()
                                .queryForList(
                                        "select who || ': ' || text from event where subject = ?"
                                                + " order by id",
                                        String.class,
                                        plan))
                .satisfiesExactly(
                        first ->
                                assertThat(first)
                                        .startsWith("mara: Plan ")
                                        .contains("drafted: 1 units"),
                        second -> assertThat(second).startsWith("jon: ").endsWith("approved."));
    }
}
