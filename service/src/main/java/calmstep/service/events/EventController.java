package calmstep.service.events;

import io.swagger.v3.oas.annotations.Operation;
import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.springframework.dao.DataAccessException;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.transaction.TransactionException;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.ResponseBodyEmitter;

/** Changes as server-sent events. */
@RestController
class EventController {
    private static final int HEARTBEAT_SECONDS = 15;

    private final Events events;
    private final EventFeed feed;

    EventController(Events events, EventFeed feed) {
        this.events = events;
        this.feed = feed;
    }

    @GetMapping(path = "/api/events", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
    @Operation(
            summary =
                    "Everything that happens from now on, or after Last-Event-ID, as server-sent"
                            + " events")
    @ApiResponse(
            responseCode = "200",
            description = "The data of each is an event",
            content =
                    @Content(
                            mediaType = MediaType.TEXT_EVENT_STREAM_VALUE,
                            schema = @Schema(implementation = Event.class)))
    ResponseEntity<ResponseBodyEmitter> follow(
            @RequestHeader(name = "Last-Event-ID", required = false) Optional<Long> lastEventId,
            @RequestParam(name = "after", required = false) Optional<Long> after) {
        ResponseBodyEmitter emitter = new ResponseBodyEmitter(0L);
        long from = lastEventId.or(() -> after).orElseGet(events::newest);
        Thread.ofVirtual().name("follower").start(() -> tell(emitter, from));
        return ResponseEntity.ok().contentType(MediaType.TEXT_EVENT_STREAM).body(emitter);
    }

    @GetMapping("/api/trail")
    @Operation(
            summary =
                    "What was done outside of runs, the oldest first, some thousands at once: each"
                            + " follows from the one before by its hash")
    List<Event> trail(@RequestParam(defaultValue = "0") long after) {
        return events.trail(after);
    }

    private void tell(ResponseBodyEmitter emitter, long from) {
        LinkedBlockingQueue<Boolean> wake = new LinkedBlockingQueue<>(List.of(true));
        Runnable unfollow = feed.follow(wake::offer);
        emitter.onCompletion(() -> wake.offer(false));
        emitter.onError(_ -> wake.offer(false));
        long last = from;
        try {
            comment(emitter, "calm-step");
            while (true) {
                Boolean more = wake.poll(HEARTBEAT_SECONDS, TimeUnit.SECONDS);
                if (more == null) {
                    comment(emitter, "still here");
                } else if (more) {
                    wake.removeIf(Boolean::booleanValue);
                    last = tellNew(emitter, last);
                } else {
                    emitter.complete();
                    return;
                }
            }
        } catch (IOException | IllegalStateException gone) {
            emitter.completeWithError(gone);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        } finally {
            unfollow.run();
        }
    }

    /** When much happens, several are told at once: each telling costs more than what is told. */
    private long tellNew(ResponseBodyEmitter emitter, long last)
            throws IOException, InterruptedException {
        long told = last;
        try {
            for (Tail.Stretch stretch = feed.after(told);
                    !stretch.isEmpty();
                    stretch = feed.after(told)) {
                emitter.send(stretch.bytes());
                told = stretch.last();
                Thread.sleep(feed.gathers());
            }
        } catch (DataAccessException | TransactionException away) {
            comment(emitter, "the database does not answer");
        }
        return told;
    }

    private static void comment(ResponseBodyEmitter emitter, String text) throws IOException {
        emitter.send((":" + text + "\n\n").getBytes(StandardCharsets.UTF_8));
    }
}
