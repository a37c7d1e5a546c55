package calmstep.practice;

import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/**
 * What goes over the members of a pair: all of it over the one that leads. A member that is spared
 * takes no new flow, so that those which it has come to their ends; a restart forgets that.
 */
final class Flows {
    private static final int USUAL = 412;
    private static final Duration END_WITHIN = Duration.ofSeconds(40);

    private record Spared(Instant since, int starts) {}

    private final Stack pair;
    private final int pace;
    private final Map<Integer, Spared> spared = new HashMap<>();

    Flows(Stack pair, int pace) {
        this.pair = pair;
        this.pace = pace;
    }

    synchronized void spare(int member) {
        if (!isSpared(member)) {
            spared.put(member, new Spared(Instant.now(), pair.member(member).starts()));
        }
    }

    synchronized void spareNone() {
        spared.clear();
    }

    synchronized boolean isSpared(int member) {
        return since(member).isPresent();
    }

    private Optional<Instant> since(int member) {
        return Optional.ofNullable(spared.get(member))
                .filter(since -> since.starts() == pair.member(member).starts())
                .map(Spared::since);
    }

    synchronized int over(int member) {
        if (member != pair.lead()) {
            return 0;
        }
        return since(member).map(this::left).orElse(USUAL);
    }

    private int left(Instant since) {
        double ended =
                Duration.between(since, Instant.now()).toNanos()
                        * (double) pace
                        / END_WITHIN.toNanos();
        int left = (int) Math.ceil(USUAL * Math.max(0, 1 - ended));
        return pair.has(Fault.KEEPS_A_FLOW) ? Math.max(1, left) : left;
    }
}
