package calmstep.service.events;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

/**
 * Whoever follows from wherever hears each event behind that once, in order, however much came
 * meanwhile; or is told to look in the rows.
 */
class TailTest {
    private static final Pattern FRAME =
            Pattern.compile("id:(\\d+)\nevent:step\ndata:(\\{.*})\n\n");
    private static final int MANY = 23_000;

    private final Tail tail = new Tail(JsonMapper.builder().build());

    private static Event event(long id) {
        return new Event(
                id,
                7L,
                "rt-1",
                "step",
                Instant.EPOCH,
                "calm-step",
                "a line\nand \"another\" one",
                "hash-" + id);
    }

    private static List<Long> idsIn(Tail.Stretch stretch) {
        String text = new String(stretch.bytes(), StandardCharsets.UTF_8);
        List<MatchResult> frames = FRAME.matcher(text).results().toList();
        assertThat(frames.stream().mapToInt(frame -> frame.group().length()).sum())
                .as("nothing but frames")
                .isEqualTo(text.length());
        return frames.stream().map(frame -> Long.parseLong(frame.group(1))).toList();
    }

    /**
     * @return the last one that it has heard then
     */
    private long hear(List<Long> told, long last, List<Long> rows) {
        told.addAll(
                tail.after(last)
                        .map(TailTest::idsIn)
                        .orElseGet(() -> rows.stream().filter(id -> id > last).toList()));
        return told.isEmpty() ? last : told.getLast();
    }

    @Test
    void everyFollowerHearsEachEventOnce() {
        SplittableRandom random = new SplittableRandom(11);
        assertThat(tail.after(3)).as("it has not begun").isEmpty();
        tail.begin(100);
        List<Long> all = new ArrayList<>();
        long[] heard = new long[20];
        List<List<Long>> told = new ArrayList<>();
        for (int follower = 0; follower < heard.length; follower++) {
            heard[follower] = 100;
            told.add(new ArrayList<>());
        }
        long id = 100;
        while (all.size() < MANY) {
            List<Event> some = new ArrayList<>();
            for (int more = random.nextInt(400); more >= 0; more--) {
                // Numbers leave gaps where a transaction was rolled back.
                id += 1 + random.nextInt(3);
                some.add(event(id));
                all.add(id);
            }
            tail.add(some);
            for (int follower = 0; follower < heard.length; follower++) {
                // The last ones look so seldom that the tail has forgotten some; they find them in
                // the rows.
                if (random.nextInt(1 + follower) == 0) {
                    heard[follower] = hear(told.get(follower), heard[follower], all);
                }
            }
        }
        for (int follower = 0; follower < heard.length; follower++) {
            hear(told.get(follower), heard[follower], all);
            assertThat(told.get(follower)).as("follower %s", follower).isEqualTo(all);
        }
        assertThat(tail.after(id).orElseThrow().isEmpty()).isTrue();
        assertThat(tail.after(id).orElseThrow().last()).isEqualTo(id);
        assertThat(tail.after(101)).as("it does not reach back so far").isEmpty();
    }

    @Test
    void oldOnesAreWrittenAsTheNewOnesAre() {
        Tail.Stretch old = tail.stretch(List.of(event(5), event(9)), 4);
        assertThat(idsIn(old)).containsExactly(5L, 9L);
        assertThat(old.last()).isEqualTo(9);
        assertThat(new String(old.bytes(), StandardCharsets.UTF_8))
                .contains("\"text\":\"a line\\nand \\\"another\\\" one\"");
        assertThat(tail.stretch(List.of(), 4).last()).isEqualTo(4);
    }
}
