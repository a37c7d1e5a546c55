package calmstep.service.events;

import io.swagger.v3.oas.annotations.Operation;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.springframework.dao.DataAccessException;
import org.springframework.http.MediaType;
import org.springframework.transaction.TransactionException;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

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
    @Operation(summary = "Everything that happens from now on, or after Last-Event-ID, as server-sent events")
    SseEmitter follow(@RequestHeader(name = "Last-Event-ID", required = false) Optional<Long> lastEventId,
            @RequestParam(name = "after", required = false) Optional<Long> after) {
        SseEmitter emitter = new SseEmitter(0L);
        long from = lastEventId.or(() -> after).orElseGet(events::newest);
        Thread.ofVirtual().name("follower").start(() -> tell(emitter, from));
        return emitter;
    }

    private void tell(SseEmitter emitter, long from) {
        LinkedBlockingQueue<Boolean> wake = new LinkedBlockingQueue<>(List.of(true));
        Runnable unfollow = feed.follow(wake::offer);
        emitter.onCompletion(() -> wake.offer(false));
        emitter.onError(_ -> wake.offer(false));
        long last = from;
        try {
            emitter.send(SseEmitter.event().comment("calm-step"));
            while (true) {
                Boolean more = wake.poll(HEARTBEAT_SECONDS, TimeUnit.SECONDS);
                if (more == null) {
                    emitter.send(SseEmitter.event().comment("still here"));
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

    private long tellNew(SseEmitter emitter, long last) throws IOException {
        long told = last;
        try {
            for (Event event : events.after(last)) {
                emitter.send(SseEmitter.event().id(String.valueOf(event.id())).name(event.kind()).data(event, MediaType.APPLICATION_JSON));
                told = event.id();
            }
        } catch (DataAccessException | TransactionException away) {
            emitter.send(SseEmitter.event().comment("the database does not answer"));
        }
        return told;
    }
}
