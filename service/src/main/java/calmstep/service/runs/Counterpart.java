package calmstep.service.runs;

import calmstep.core.device.Backups;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import java.time.Clock;
import java.util.Optional;

/**
 * What a unit is driven against: its device, or in a rehearsal the stand-in that plays it. Nothing
 * else of the engine knows the difference.
 */
interface Counterpart {
    /**
     * Holds a device, its own or the base that feeds it; empty when somebody else drives that one.
     */
    Optional<Hold> take(String device);

    Door door(String device, Talk talk);

    /** Where a device is, as it would be told to whom it asks for a file. */
    String address(String device);

    Backups backups();

    /** The clock that the plan's times are meant by. */
    Clock clock();

    /** How much faster than that clock its own one runs. */
    int pace();
}
