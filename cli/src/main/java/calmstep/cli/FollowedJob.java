package calmstep.cli;

import java.io.Console;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicBoolean;
import tools.jackson.databind.JsonNode;

/**
 * Long work of the service, followed to its end: progress on a terminal only, and Ctrl-C cancels it
 * there; what it did so far stays.
 */
final class FollowedJob {
    private static final long LOOK_EVERY_MILLIS = 150;

    private FollowedJob() {}

    /**
     * @param job as the service answered it
     * @param verb what happens to each of its parts, as in "12 of 64 read"
     * @return the job as it ended
     */
    static JsonNode toItsEnd(Service service, JsonNode job, String verb)
            throws InterruptedException {
        AtomicBoolean over = new AtomicBoolean();
        Thread cancels = new Thread(() -> cancel(service, job.path("id").asLong(), over));
        Runtime.getRuntime().addShutdownHook(cancels);
        boolean terminal =
                Optional.ofNullable(System.console()).filter(Console::isTerminal).isPresent();
        JsonNode now = job;
        while (now.path("state").asString().equals("under-way")) {
            Thread.sleep(LOOK_EVERY_MILLIS);
            now = service.get("/api/jobs/" + job.path("id").asLong());
            if (terminal) {
                System.err.printf(
                        "\r\u001b[K%s of %s %s  %s",
                        now.path("done").asInt(),
                        now.path("total").asInt(),
                        verb,
                        now.path("doing").asString(""));
            }
        }
        over.set(true);
        Runtime.getRuntime().removeShutdownHook(cancels);
        if (terminal) {
            System.err.print("\r\u001b[K");
        }
        if (now.path("state").asString().equals("lost")) {
            throw new Problem(
                    Problem.STOPS,
                    "Nothing was heard of job %s for a while: the service that did it has ended. What it did so far is kept; start it again."
                            .formatted(now.path("id").asLong()),
                    List.of());
        }
        return now;
    }

    private static void cancel(Service service, long job, AtomicBoolean over) {
        if (over.compareAndSet(false, true)) {
            service.delete("/api/jobs/" + job);
            System.err.printf("%nJob %s is cancelled; what it did so far is kept.%n", job);
        }
    }
}
