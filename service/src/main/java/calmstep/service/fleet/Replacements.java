package calmstep.service.fleet;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.fleet.Reading;
import calmstep.dialect.Door;
import calmstep.service.problems.Refusal;
import org.springframework.stereotype.Component;

/** Boxes that take the place of others. */
@Component
public class Replacements {
    private final Fleet fleet;
    private final DeviceDoors ways;

    Replacements(Fleet fleet, DeviceDoors ways) {
        this.fleet = fleet;
        this.ways = ways;
    }

    /**
     * What stands at a device's address, and the host key that it showed; nothing of it is believed
     * yet.
     */
    public record Met(Reading reading, String hostKey) {}

    /**
     * @throws Refusal where nobody answers there, or lets us in
     */
    public Met meet(String name) {
        try (Door door = ways.doorToAny(name)) {
            Reading reading = door.session().read();
            return new Met(reading, door.seenHostKey());
        } catch (DeviceTrouble trouble) {
            throw Refusal.conflict(
                    "The box that stands where %s stood could not be read. %s"
                            .formatted(name, trouble.trouble().sentence()));
        }
    }

    /** From here on it is the device of that name. */
    public void believe(String name, Met met, String who) {
        fleet.replace(name, met.reading(), met.hostKey(), who);
    }
}
