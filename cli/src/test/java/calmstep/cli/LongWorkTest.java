package calmstep.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.List;
import org.junit.jupiter.api.Test;

/** What is followed to its end, and what a client proves by itself. */
class LongWorkTest extends AnsweredCalls {
    @Test
    void aReadingIsFollowedToItsEndAndSilentDevicesAreCounted() {
        when(
                "POST /api/readings",
                202,
                "{\"id\":7,\"state\":\"under-way\",\"total\":3,\"done\":0,\"failed\":0}");
        when(
                "GET /api/jobs/7",
                200,
                "{\"id\":7,\"state\":\"under-way\",\"total\":3,\"done\":1,\"failed\":0}",
                "{\"id\":7,\"state\":\"finished\",\"total\":3,\"done\":3,\"failed\":1}");
        Said said = run("fleet", "read");
        assertThat(said.exitCode()).isEqualTo(1);
        assertThat(said.out()).contains("2 read, 1 silent.");
        assertThat(said.err()).as("no progress when it is not a terminal").isEmpty();
    }

    @Test
    void anImageIsSentAsItIsAndARefusedOneGivesItsReason() throws Exception {
        Path image = Files.write(folder.resolve("osmer-r6c-2.8.2.img"), new byte[3_000_000]);
        when(
                "PUT /api/shelf/images/osmer-r6c-2.8.2.img",
                422,
                "{\"detail\":\"It is not the published file.\"}");
        assertThat(run("shelf", "add", image.toString()))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isEqualTo(1);
                            assertThat(said.err()).contains("It is not the published file.");
                        });
        assertThat(calls)
                .singleElement()
                .satisfies(call -> assertThat(call.body()).hasSize(3_000_000));
        assertThat(run("shelf", "add", folder.resolve("gone.img").toString()).exitCode())
                .isEqualTo(2);
    }

    @Test
    void watchingPrintsEachEventOnceThoughTheLineBreaksAndEndsWithTheRun() {
        String run =
                "{\"id\":3,\"name\":\"tonight\",\"state\":\"%s\",\"units\":[{\"device\":\"rt-1\",\"state\":\"%s\",\"gate\":null}]}";
        when(
                "GET /api/runs/tonight",
                200,
                run.formatted("under-way", "preparing"),
                run.formatted("under-way", "preparing"),
                run.formatted("finished", "settled"));
        String first =
                "{\"id\":1,\"runId\":3,\"kind\":\"unit\",\"at\":\"2026-11-23T01:20:00Z\",\"text\":\"rt-1"
                    + " is preparing.\"}";
        String second =
                "{\"id\":2,\"runId\":3,\"kind\":\"step\",\"at\":\"2026-11-23T01:21:00Z\",\"text\":\"rt-1,"
                    + " hop 1, check: done.\"}";
        String third =
                "{\"id\":4,\"runId\":3,\"kind\":\"run\",\"at\":\"2026-11-23T01:29:00Z\",\"text\":\"Run"
                    + " tonight finished.\"}";
        when(
                "GET /api/runs/tonight/events",
                200,
                "[" + first + "]",
                "[" + first + "," + second + "," + third + "]");
        String other =
                "{\"id\":3,\"runId\":9,\"kind\":\"step\",\"at\":\"2026-11-23T01:22:00Z\",\"text\":\"of"
                    + " another run\"}";
        replies.put(
                "GET /api/events",
                new ArrayDeque<>(
                        List.of(
                                new Reply(
                                        200,
                                        "text/event-stream",
                                        "id: 2\ndata: %s\n\n: beat\n\nid: 3\ndata: %s\n\n"
                                                .formatted(second, other)),
                                new Reply(200, "text/event-stream", ""))));
        Said said = run("run", "watch", "tonight");
        assertThat(said.exitCode()).isZero();
        assertThat(said.out().lines().map(line -> line.replaceAll("^.*?(rt-1|Run|of)", "$1")))
                .containsExactly(
                        "rt-1 is preparing.", "rt-1, hop 1, check: done.", "Run tonight finished.");
    }

    @Test
    void followsLongWorkToItsEndAndSaysWhyPartsOfItFailed() {
        when("POST /api/fetches", 202, job("under-way", 0, 0, ""));
        when(
                "GET /api/jobs/7",
                200,
                job("under-way", 1, 0, ""),
                job(
                        "finished",
                        5,
                        1,
                        "\"a.img was not fetched from makers. It is not the published file.\""));
        assertThat(run("shelf", "fetch", "--plan", "tonight"))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isEqualTo(1);
                            assertThat(said.out()).isEqualTo("4 fetched and proven, 1 not.\n");
                            assertThat(said.err()).contains("a.img was not fetched from makers.");
                        });
        assertThat(calls.getFirst().body()).contains("\"plan\":\"tonight\"");
        when("POST /api/discovery/ranges/quay/searches", 202, job("lost", 2, 0, ""));
        assertThat(run("fleet", "search", "quay"))
                .satisfies(
                        said -> {
                            assertThat(said.exitCode()).isEqualTo(1);
                            assertThat(said.err())
                                    .contains("Nothing was heard of job 7")
                                    .contains("start it again");
                        });
    }

    /** Each event's hash is worked out anew here, so that nobody has to take the service's word. */
    @Test
    void theTrailIsProvenByTheClientItself() {
        String one = event(1, "", "ines approves the plan.");
        String two =
                event(
                        2,
                        hashOf(one),
                        "The host key of rt-1 was forgotten; the next one is believed.");
        when(
                "GET /api/trail",
                200,
                "[%s,%s]".formatted(one, two),
                "[]",
                "[%s,%s]".formatted(one, two.replace("forgotten", "kept")),
                "[]",
                "[%s,%s]".formatted(one, two),
                "[]");
        Said whole = run("record", "trail");
        assertThat(whole.exitCode()).isZero();
        assertThat(whole.out())
                .contains("The trail is whole: 2 events")
                .contains(hashOf(two))
                .contains("ines approves the plan.");
        Said altered = run("record", "trail");
        assertThat(altered.exitCode()).isEqualTo(1);
        assertThat(altered.out())
                .contains("Event 2 of 2 does not follow")
                .contains("NOT what it was");
        assertThat(run("record", "trail", "--last-hash", "0".repeat(64)).out())
                .contains("was cut, or made anew");
    }

    @Test
    void aBundleGoesIntoANewFileOnly() throws Exception {
        when("POST /api/bundles", 200, "PK-bytes");
        Path file = folder.resolve("tonight.bundle");
        assertThat(run("shelf", "bundle", "--plan", "tonight", "--to", file.toString()).exitCode())
                .isZero();
        assertThat(Files.readString(file)).isEqualTo("PK-bytes");
        assertThat(run("shelf", "bundle", "--to", file.toString()).err())
                .contains("There is a file")
                .contains("name another");
        assertThat(run("shelf", "trust", "head-office").err())
                .contains("Expected either --key KEY or --no-more");
    }
}
