package calmstep.core.evidence;

import calmstep.core.step.Digests;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Events that follow from each other by their hashes. */
public final class EventChain {
    private EventChain() {}

    /**
     * An event with its hash.
     *
     * @param run number of the run that it belongs to, as text; {@code null} as a word where it
     *     belongs to none
     * @param hash 64 lower-case hex digits
     */
    public record Link(
            String run,
            String subject,
            String kind,
            Instant at,
            String who,
            String text,
            String hash) {}

    /**
     * SHA-256 over the previous hash (empty before the first event) and what the event tells,
     * joined by line feeds.
     */
    public static String hash(
            String previous,
            String run,
            String subject,
            String kind,
            Instant at,
            String who,
            String text) {
        return Digests.sha256(previous + "\n" + told(run, subject, kind, at, who, text));
    }

    /** What an event tells, joined by line feeds. */
    public static String told(
            String run, String subject, String kind, Instant at, String who, String text) {
        return String.join("\n", run, subject, kind, at.toString(), who, text);
    }

    /**
     * As {@link #brokenAt}, of what was done outside of runs: what was written before these were
     * chained stands at its beginning, each alone.
     */
    public static Optional<Integer> trailBrokenAt(List<Link> trail) {
        int alone = 0;
        while (alone < trail.size() && follows("", trail.get(alone))) {
            alone++;
        }
        int first = Math.max(1, alone);
        for (int at = first; at < trail.size(); at++) {
            if (!follows(trail.get(at - 1).hash(), trail.get(at))) {
                return Optional.of(at + 1);
            }
        }
        return alone == 0 && !trail.isEmpty() ? Optional.of(1) : Optional.empty();
    }

    private static boolean follows(String previous, Link link) {
        return link.hash()
                .equals(
                        hash(
                                previous,
                                link.run(),
                                link.subject(),
                                link.kind(),
                                link.at(),
                                link.who(),
                                link.text()));
    }

    /**
     * The first event that does not follow from those before it, counted from 1; empty where the
     * chain is whole.
     */
    public static Optional<Integer> brokenAt(List<Link> chain) {
        String previous = "";
        for (int at = 0; at < chain.size(); at++) {
            Link link = chain.get(at);
            if (!follows(previous, link)) {
                return Optional.of(at + 1);
            }
            previous = link.hash();
        }
        return Optional.empty();
    }
}
