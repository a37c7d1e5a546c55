package calmstep.service.shelf;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.service.RunningService;
import calmstep.service.json.Json;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.simple.JdbcClient;

/** What one node tells, the others hear; a node that is gone is heard no more. */
class ToldCopiesTest {
    private final JdbcClient database = RunningService.bean(JdbcClient.class);
    private final OtherNodes one = new ToldCopies(database, RunningService.bean(Json.class));
    private final OtherNodes other = new ToldCopies(database, RunningService.bean(Json.class));

    private static Copy.View copy(String device, long sent) {
        return new Copy.View(
                device,
                "192.0.2.1",
                "a.img",
                "http",
                sent,
                1_000,
                10,
                5L,
                Instant.parse("2026-11-02T01:00:00Z"));
    }

    @Test
    void areHeardByEveryOtherNodeUntilTheyEnd() {
        one.tell(List.of(copy("rt-told-1", 100)));
        one.tell(List.of(copy("rt-told-1", 400), copy("rt-told-2", 7)));
        assertThat(other.heard())
                .contains(copy("rt-told-1", 400), copy("rt-told-2", 7))
                .doesNotContain(copy("rt-told-1", 100));
        assertThat(one.heard())
                .as("its own it knows better")
                .noneMatch(view -> view.device().startsWith("rt-told"));
        one.tell(List.of());
        assertThat(other.heard()).noneMatch(view -> view.device().startsWith("rt-told"));
    }

    @Test
    void ofANodeThatDiedAreForgotten() {
        one.tell(List.of(copy("rt-died", 100)));
        database.sql(
                        "update node_copies set told_at = told_at - interval '11 seconds' where"
                                + " copies like '%rt-died%'")
                .update();
        assertThat(other.heard()).noneMatch(view -> view.device().equals("rt-died"));
        one.tell(List.of());
    }
}
