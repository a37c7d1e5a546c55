package calmstep.core.step;

import calmstep.core.device.DeviceSession;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.Fact;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * What stands around a unit: who hears of it, and who uses it.
 *
 * @param alarms the alarm systems; empty where none is told, or the step has nothing to do with
 *     them
 * @param checks checks of one's own
 * @param soak how long it is watched behind its last proof, on the devices' clock
 * @param held whether a person holds it: what is out is waited for, nothing else begins
 * @param teller keeps what whoever looks at it later should know
 * @param console what it said on its console line
 */
public record Around(
        Optional<Alarms> alarms,
        Checks checks,
        Duration soak,
        boolean held,
        Teller teller,
        Console console) {
    /** Where nobody keeps what is told, and nobody hears its console line. */
    public Around(Optional<Alarms> alarms, Checks checks, Duration soak, boolean held) {
        this(alarms, checks, soak, held, _ -> {}, List::of);
    }

    /** Where nobody hears of it, and nobody watches. */
    public static final Around NOTHING =
            new Around(Optional.empty(), (_, _, _) -> List.of(), Duration.ZERO, false);

    /**
     * The alarm systems that are told of this unit. All throw {@link
     * calmstep.core.device.DeviceTrouble} when one of them does not answer, or refuses.
     */
    public interface Alarms {
        /** Whose alarms are quieted: the unit, and what it cuts off. */
        List<String> about();

        /**
         * Whether each of them has been quieted for this unit at each system, as the systems say.
         */
        boolean areQuiet();

        /** Until when they were asked to be quiet for this unit; empty where they were not. */
        Optional<Instant> askedUntil();

        /**
         * Safe to repeat.
         *
         * @param until by then each system un-quiets them by itself, whatever becomes of us
         */
        void quiet(Instant until, String why);

        /**
         * Ends what was quieted for this unit; whoever is quiet for another unit as well stays so.
         * Safe to repeat.
         */
        void unQuiet();
    }

    /** Keeps a sentence among what happened to the unit. */
    public interface Teller {
        void tell(String sentence);
    }

    /** What a device said on its console line since the hop's restart. */
    public interface Console {
        /**
         * What it complained of, each once, in its own words, secrets masked; none where nobody
         * heard it.
         */
        List<String> complaints();
    }

    /** Checks of one's own: whether what is used through a device can be used. */
    public interface Checks {
        /**
         * Each check as a fact of the kind {@code check}; {@code ok}, or what was seen instead.
         *
         * @param session with the device, for what it is asked itself
         */
        List<Fact> run(String device, Reading reading, DeviceSession session);
    }
}
