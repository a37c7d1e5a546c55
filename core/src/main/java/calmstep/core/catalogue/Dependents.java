package calmstep.core.catalogue;

import java.time.Duration;
import java.util.Optional;

/**
 * How devices that take their firmware from one of this family follow it.
 *
 * @param preLoad how long it takes to bring the new image to all of them ahead, while they serve;
 *     empty where they cannot hold it
 * @param fetch how long they take to fetch it when it is not there yet, in which they serve nobody
 * @param restart until they serve again
 * @param after whether they follow their controller; otherwise they go before it
 */
public record Dependents(
        Optional<Duration> preLoad, Duration fetch, Duration restart, boolean after) {}
