package calmstep.core.path;

import java.util.List;
import java.util.Optional;

/** What planning one device comes to: a path, nothing to do, or every reason why there is none. */
public sealed interface PathAnswer {
    record Found(Path best, List<Path> alternatives) implements PathAnswer {}

    record AlreadyThere(String running) implements PathAnswer {}

    /**
     * @param obstacles the smallest set of things in the way
     * @param highestReachable the newest release that the device can reach today, where there is
     *     one newer than it runs
     */
    record Refused(List<Obstacle> obstacles, Optional<String> highestReachable)
            implements PathAnswer {}
}
