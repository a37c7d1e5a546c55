package calmstep.core.step;

import calmstep.core.window.Limits;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * What a unit is beside others: who may be in work while it is.
 *
 * @param notWith what it cuts off, what cuts it off, and what stands in for it
 * @param follows the pilots of its kind; none for a pilot
 */
public record Neighbours(
        String unit, String site, String family, Set<String> notWith, Set<String> follows) {
    /** Of one that follows nobody. */
    public Neighbours(String unit, String site, String family, Set<String> notWith) {
        this(unit, site, family, notWith, Set.of());
    }

    public Neighbours {
        notWith = Collections.unmodifiableSet(new TreeSet<>(notWith));
        // Of a run that was begun before anybody followed.
        follows =
                Collections.unmodifiableSet(
                        new TreeSet<>(Objects.requireNonNullElse(follows, Set.of())));
    }

    /** The same, following nobody: a person's word goes before the pilots'. */
    public Neighbours onItsOwn() {
        return new Neighbours(unit, site, family, notWith);
    }

    /**
     * How a pilot stands.
     *
     * @param ended when the parts of its path ended that it has behind it
     * @param doubt whether something odd about it waits for a person
     */
    public record Pilot(String unit, UnitState state, List<Instant> ended, boolean doubt) {
        public Pilot {
            ended = List.copyOf(ended);
        }

        private Optional<String> whyWait(int part, Duration soak, Instant now) {
            return switch (state) {
                case STUCK, RETURNED, SET_ASIDE, HELD ->
                        Optional.of(
                                "%s, the pilot of its kind, is %s; it begins when somebody says when, or when that one has settled"
                                        .formatted(unit, state));
                case WAITING, PREPARING, STAGED, CHANGING, PROVING, SOAKING, SETTLED ->
                        doubt
                                ? Optional.of(
                                        "something odd about %s, the pilot of its kind, waits for a person's judgement"
                                                .formatted(unit))
                                : ended.size() > part
                                        ? whyWatched(ended.get(part).plus(soak), now)
                                        : Optional.of(
                                                "%s, the pilot of its kind, goes first"
                                                        .formatted(unit));
            };
        }

        /**
         * The plan counts the watch from when the pilot should have ended; one that was late is
         * watched as long.
         */
        private Optional<String> whyWatched(Instant until, Instant now) {
            return now.isBefore(until)
                    ? Optional.of(
                            "%s, the pilot of its kind, is watched until %s"
                                    .formatted(unit, Turn.words(until)))
                    : Optional.empty();
        }
    }

    /**
     * Why it has to wait for its pilots, although by the plan the time that they were to be watched
     * for is over.
     *
     * @param part of its path that it is to begin, from 0
     * @param soak how long they are watched
     */
    public Optional<String> whyBehind(
            Collection<Pilot> pilots, int part, Duration soak, Instant now) {
        return pilots.stream()
                .filter(pilot -> follows.contains(pilot.unit()))
                .flatMap(pilot -> pilot.whyWait(part, soak, now).stream())
                .findFirst();
    }

    /**
     * Why it has to wait although its turn has come: the plan keeps these rules in its nights, and
     * whoever is late must not break them.
     *
     * @param inWork units that are in work now
     * @return empty when it may begin
     */
    public Optional<String> whyNotNow(Collection<Neighbours> inWork, Limits limits) {
        List<Neighbours> others =
                inWork.stream().filter(other -> !other.unit.equals(unit)).toList();
        Optional<String> mate =
                others.stream()
                        .filter(
                                other ->
                                        notWith.contains(other.unit)
                                                || other.notWith.contains(unit))
                        .findFirst()
                        .map(
                                other ->
                                        "%s is in work; the two are never in work together"
                                                .formatted(other.unit));
        return mate.or(() -> full(others.size(), limits.atOnce(), " over all"))
                .or(
                        () ->
                                full(
                                        others.stream()
                                                .filter(other -> other.site.equals(site))
                                                .count(),
                                        limits.perSite(),
                                        " at " + site))
                .or(
                        () ->
                                full(
                                        others.stream()
                                                .filter(other -> other.family.equals(family))
                                                .count(),
                                        limits.perFamily(),
                                        " of " + family));
    }

    private static Optional<String> full(long inWork, int limit, String where) {
        return inWork < limit
                ? Optional.empty()
                : Optional.of(
                        "%s %s in work, and no more than %s may be at once"
                                        .formatted(
                                                inWork,
                                                inWork == 1 ? "unit is" : "units are",
                                                limit)
                                + where);
    }
}
