package calmstep.service.runs;

import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import java.util.Optional;

/**
 * One visit to a unit: the lease on its device and the session with it are kept from step to step,
 * for as long as one follows the other at once. A sign-in costs more than most steps do. Behind
 * anything that went wrong, or has to be waited for, the next step signs in anew.
 */
final class Visit implements AutoCloseable {
    private Optional<Hold> hold = Optional.empty();
    private Optional<Door> door = Optional.empty();
    private Talk ofThisStep = Talk.NONE;

    /** Whoever has an open door speaks for the step that is carried out now. */
    private final Talk talk =
            new Talk() {
                @Override
                public void typed(String text) {
                    ofThisStep.typed(text);
                }

                @Override
                public void answered(String text) {
                    ofThisStep.answered(text);
                }

                @Override
                public Optional<String> answerTo(String question) {
                    return ofThisStep.answerTo(question);
                }
            };

    /**
     * @return empty where another one has the device
     */
    Optional<Hold> take(Counterpart counterpart, String device) {
        if (hold.isEmpty()) {
            hold = counterpart.take(device);
        }
        return hold;
    }

    Door door(Counterpart counterpart, String device, Talk ofStep) {
        ofThisStep = ofStep;
        if (door.isEmpty()) {
            door = Optional.of(counterpart.door(device, talk));
        }
        return door.get();
    }

    /** Ends the session, and keeps the lease. */
    void leave() {
        door.ifPresent(Door::close);
        door = Optional.empty();
    }

    @Override
    public void close() {
        leave();
        hold.ifPresent(Hold::close);
        hold = Optional.empty();
    }
}
