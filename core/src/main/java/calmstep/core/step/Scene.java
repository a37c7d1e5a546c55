package calmstep.core.step;

import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.Backups;
import calmstep.core.device.DeviceDoor;
import calmstep.core.device.ImageSource;
import calmstep.core.fleet.Reading;
import calmstep.core.path.Hop;
import calmstep.core.step.UnitPlan.HopPlan;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * Everything that a step sees.
 *
 * @param intent  the intent that an earlier try of this step left
 * @param restart the intent of the hop's restart
 * @param before  the reading that the hop's check took
 * @param now     our clock
 * @param pace    how much faster than ours the devices' clocks run: 1 for real devices, more for a practice fleet
 * @param talk    compares configurations as the family's dialect does
 */
public record Scene(
        UnitPlan unit,
        HopPlan hopPlan,
        DeviceDoor door,
        Backups backups,
        ImageSource shelf,
        Optional<Intent> intent,
        Optional<Intent> restart,
        Optional<Reading> before,
        Instant now,
        int pace,
        ConfigurationReader talk) {
    Hop hop() {
        return hopPlan.hop();
    }

    String file() {
        return hop().image().fileName();
    }

    /** A duration of the devices' clocks in ours. */
    Duration paced(Duration duration) {
        return duration.dividedBy(pace);
    }

    /** Compares two configurations as the family's dialect reads them: without volatile lines, with secrets masked. */
    public interface ConfigurationReader {
        ConfigurationComparison compare(String before, String after);
    }
}
