package calmstep.service.runs;

import calmstep.check.Await;
import calmstep.service.RunningService;
import calmstep.service.fleet.Logins;
import calmstep.service.plans.Plans;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import org.junit.jupiter.api.BeforeEach;

/** A run of two devices that do not answer. */
abstract class StuckRuns {
    final Runs runs = RunningService.bean(Runs.class);
    final GivenTurns turns = RunningService.bean(GivenTurns.class);
    final UnitDecisions decisions = RunningService.bean(UnitDecisions.class);
    final Plans plans = RunningService.bean(Plans.class);
    final String run = RunningService.name("run");
    final List<String> routers = new ArrayList<>();

    @BeforeEach
    void anApprovedPlan() {
        RunningService.bean(Logins.class).set("steward", "steward", "practice-only", "test");
        for (int i = 0; i < 2; i++) {
            String router = RunningService.router();
            RunningService.keep(router, RunningService.reading("2.6.3"));
            routers.add(router);
        }
        RunningService.sql()
                .update(
                        "insert into shelf_image (file_name, family, release, size_bytes, sha256,"
                            + " taken_in_at, taken_in_by) select 'osmer-r6c-2.8.2.img', 'osmer-r6',"
                            + " '2.8.2', 1, '', now(), 'test' on conflict do nothing");
        approve(run);
    }

    void approve(String plan) {
        plans.draft(plan, routers, "2.8.2", "mara");
        plans.approve(plan, "jon");
    }

    RunView await(Predicate<RunView> reached) throws InterruptedException {
        return Await.until(
                Duration.ofSeconds(30), "the run has come that far", () -> runs.find(run), reached);
    }

    RunView startAndAwaitStuck() throws InterruptedException {
        runs.start(run, "mara");
        return await(view -> view.units().stream().allMatch(u -> u.state().equals("stuck")));
    }
}
