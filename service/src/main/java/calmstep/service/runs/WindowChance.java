package calmstep.service.runs;

import calmstep.core.fleet.Device;
import calmstep.core.forecast.StepTime;
import calmstep.core.forecast.Times;
import calmstep.core.step.StepName;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitPlan;
import calmstep.service.Settings;
import calmstep.service.durations.LearntTimes;
import calmstep.service.fleet.Fleet;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/**
 * How likely a part of a unit's path ends inside its window, as it stands now: what is left of it,
 * by the times that were learnt, against the time that is left.
 */
@Component
class WindowChance {
    private static final Duration LEARNT_FOR = Duration.ofMinutes(1);

    private final LearntTimes learnt;
    private final Fleet fleet;
    private final Settings settings;
    private final Clock clock;
    private @Nullable Times times;
    private Instant learntAt = Instant.EPOCH;

    WindowChance(LearntTimes learnt, Fleet fleet, Settings settings, Clock clock) {
        this.learnt = learnt;
        this.fleet = fleet;
        this.settings = settings;
        this.clock = clock;
    }

    /** For the units of one look; what is learnt and who is what is read once. */
    Look look(boolean rehearsal, Collection<String> units) {
        return new Look(times(), rehearsal ? 1 : settings.pace(), fleet.devices(units));
    }

    private synchronized Times times() {
        Instant now = clock.instant();
        if (times == null || Duration.between(learntAt, now).compareTo(LEARNT_FOR) > 0) {
            times = learnt.times();
            learntAt = now;
        }
        return times;
    }

    final class Look {
        private final Times known;
        private final int pace;
        private final Map<String, Device> devices;

        Look(Times known, int pace, List<Device> devices) {
            this.known = known;
            this.pace = pace;
            this.devices =
                    devices.stream().collect(Collectors.toMap(Device::name, Function.identity()));
        }

        /**
         * @return from 0 to 1; 1 where nothing of it is left
         */
        double of(UnitPlan plan, List<StepRow> rows, Turn turn, boolean inWork) {
            Optional<Device> device = Optional.ofNullable(devices.get(plan.device()));
            List<StepRow> left = left(rows, turn);
            if (left.isEmpty() || device.isEmpty()) {
                return 1;
            }
            Instant now = clock.instant();
            StepTime needs =
                    StepTime.sum(
                            left.stream().map(row -> timeOf(plan, row, device.get())).toList());
            Instant begins = inWork || now.isAfter(turn.begins()) ? now : turn.begins();
            Instant began = left.getFirst().startedAt;
            Duration elapsed =
                    began == null || !inWork ? Duration.ZERO : Duration.between(began, now);
            return needs.chanceWithin(
                    elapsed.multipliedBy(pace),
                    Duration.between(begins, turn.closes()).multipliedBy(pace));
        }

        private static List<StepRow> left(List<StepRow> rows, Turn turn) {
            List<StepRow> left =
                    rows.stream()
                            .filter(
                                    row ->
                                            !row.stepState().isFinished()
                                                    && turn.holds(
                                                            row.hop, StepName.parse(row.name)))
                            .toList();
            return left;
        }

        private StepTime timeOf(UnitPlan plan, StepRow row, Device device) {
            UnitPlan.HopPlan planned = plan.hop(row.hop);
            StepName timed = planned.timedAs(StepName.parse(row.name));
            return known.of(
                    device.family(),
                    device.hardware().model(),
                    planned.hop(),
                    timed,
                    planned.restartsIn(timed),
                    plan.bytesPerSecond());
        }
    }
}
