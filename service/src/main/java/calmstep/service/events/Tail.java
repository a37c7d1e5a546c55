package calmstep.service.events;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import tools.jackson.databind.json.JsonMapper;

/**
 * The newest events as they go over the line, written once for all who follow: two hundred
 * followers cost no more reading and writing than one.
 */
final class Tail {
    private static final int KEPT = 10_000;

    private final JsonMapper mapper;
    private final Deque<Frame> frames = new ArrayDeque<>();
    private long newest = -1;

    /** Whatever is newer is in the tail; nothing is, before it begins. */
    private long behind = Long.MAX_VALUE;

    Tail(JsonMapper mapper) {
        this.mapper = mapper;
    }

    private record Frame(long id, byte[] bytes) {}

    /**
     * Events in the form of server-sent events (HTML Standard, 9.2).
     *
     * @param last number of the last one in it, or that behind which it begins, when it is empty
     */
    record Stretch(byte[] bytes, long last) {
        boolean isEmpty() {
            return bytes.length == 0;
        }
    }

    synchronized boolean hasBegun() {
        return newest >= 0;
    }

    synchronized long newest() {
        return newest;
    }

    synchronized void begin(long id) {
        newest = id;
        behind = id;
    }

    /**
     * @param events those behind the newest one, in their order
     */
    synchronized void add(List<Event> events) {
        for (Event event : events) {
            frames.add(frame(event));
            newest = event.id();
            if (frames.size() > KEPT) {
                behind = frames.remove().id();
            }
        }
    }

    /**
     * @return empty where the tail does not reach back so far
     */
    synchronized Optional<Stretch> after(long id) {
        return id < behind ? Optional.empty() : Optional.of(joined(newerThan(id), id));
    }

    /** From the end: who follows closely has seen nearly all of it. */
    private Deque<Frame> newerThan(long id) {
        Deque<Frame> newer = new ArrayDeque<>();
        for (Iterator<Frame> back = frames.descendingIterator(); back.hasNext(); ) {
            Frame frame = back.next();
            if (frame.id() <= id) {
                break;
            }
            newer.addFirst(frame);
        }
        return newer;
    }

    /** Of events that are older than the tail. */
    Stretch stretch(List<Event> events, long after) {
        return joined(events.stream().map(this::frame).toList(), after);
    }

    private static Stretch joined(Iterable<Frame> frames, long after) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        long last = after;
        for (Frame frame : frames) {
            bytes.writeBytes(frame.bytes());
            last = frame.id();
        }
        return new Stretch(bytes.toByteArray(), last);
    }

    /** JSON has no bare line ends, so one line of data holds it. */
    private Frame frame(Event event) {
        return new Frame(
                event.id(),
                "id:%s\nevent:%s\ndata:%s\n\n"
                        .formatted(event.id(), event.kind(), mapper.writeValueAsString(event))
                        .getBytes(StandardCharsets.UTF_8));
    }
}
