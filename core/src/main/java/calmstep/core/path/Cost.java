package calmstep.core.path;

import java.time.Duration;

/**
 * What a path costs.
 *
 * @param barred guards that it violates; 0 for every path that is offered
 * @param restarts restarts of the device
 * @param darkSeconds time without service
 * @param unproven early, trial or too young releases on the way
 * @param bytes bytes to bring to the device
 */
public record Cost(int barred, int restarts, long darkSeconds, int unproven, long bytes) {
    static final Cost NONE = new Cost(0, 0, 0, 0, 0);

    Cost plus(Cost other) {
        return new Cost(
                barred + other.barred,
                restarts + other.restarts,
                darkSeconds + other.darkSeconds,
                unproven + other.unproven,
                bytes + other.bytes);
    }

    public Duration dark() {
        return Duration.ofSeconds(darkSeconds);
    }
}
