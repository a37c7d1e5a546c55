package calmstep.core.step;

import java.util.Locale;

/** The steps, in their order. */
public enum StepName {
    CHECK,
    BACK_UP,
    RETURN,
    RESCUE,
    /** Another box stands there now: it is met. */
    REPLACE,
    MAKE_ROOM,
    STAGE,
    CONFIRM_IMAGE,
    PRE_LOAD,
    /** Alarms of what goes dark are quieted. */
    QUIET,
    CHOOSE_BOOT,
    /** Those that stand by, where the active one is drained before it hands over. */
    RESTART_STANDBYS,
    /** Its traffic goes another way, before it hands over or restarts. */
    DRAIN,
    RESTART,
    COME_BACK,
    /** In which boards take over what the new release handed to them at its first start. */
    SECOND_RESTART,
    COME_BACK_AGAIN,
    PUT_BACK,
    /** The member that was active before is so again. */
    RESTORE_ROLES,
    PROVE,
    UN_DRAIN,
    UN_QUIET,
    /** Under watch, after the proof. */
    SOAK,
    TIDY;

    /**
     * Whether a person may have it left out, with a reason: what makes the rest quicker, cleaner or
     * can be done by hand. What proves something, and what the steps behind it build upon, is never
     * left out.
     */
    public boolean maySkip() {
        return switch (this) {
            case PRE_LOAD, QUIET, DRAIN, PUT_BACK, RESTORE_ROLES, UN_DRAIN, UN_QUIET, TIDY -> true;
            case CHECK,
                    BACK_UP,
                    RETURN,
                    RESCUE,
                    REPLACE,
                    MAKE_ROOM,
                    STAGE,
                    CONFIRM_IMAGE,
                    CHOOSE_BOOT,
                    RESTART_STANDBYS,
                    RESTART,
                    COME_BACK,
                    SECOND_RESTART,
                    COME_BACK_AGAIN,
                    PROVE,
                    SOAK ->
                    false;
        };
    }

    /**
     * Whether it is done inside the window of its part: from the first interruption to the last
     * proof. Behind that it serves again, and what comes may go on beyond the window.
     *
     * @param firstHop of the part: what brings its image is done ahead
     */
    public boolean isInWindow(boolean firstHop) {
        return compareTo(SOAK) < 0 && !(firstHop && compareTo(QUIET) < 0);
    }

    /**
     * Whether its order may be given anew when a person tries it again, as if it had never been
     * given.
     */
    public boolean mayBeginAnew() {
        return switch (this) {
            case STAGE, PRE_LOAD, RESCUE, QUIET, DRAIN, RESTORE_ROLES, UN_DRAIN, SOAK -> true;
            case CHECK,
                    BACK_UP,
                    RETURN,
                    REPLACE,
                    MAKE_ROOM,
                    CONFIRM_IMAGE,
                    CHOOSE_BOOT,
                    RESTART_STANDBYS,
                    RESTART,
                    COME_BACK,
                    SECOND_RESTART,
                    COME_BACK_AGAIN,
                    PUT_BACK,
                    PROVE,
                    UN_QUIET,
                    TIDY ->
                    false;
        };
    }

    /** Whether a device that has its order already does no more for a second one. */
    boolean mayBeOrderedTwice() {
        return this == PRE_LOAD || this == DRAIN || this == UN_DRAIN;
    }

    /** Whether it never acts, and so writes no intent: then it may look as often as it likes. */
    public boolean onlyLooks() {
        return this == COME_BACK || this == COME_BACK_AGAIN || this == PROVE;
    }

    /**
     * Whether it goes on while a person holds the unit or its run: what was begun is watched until
     * it is proven, whoever was quieted is heard again, and what was drained carries its traffic
     * again. Nothing new is done to the device.
     */
    public boolean goesOnWhileHeld() {
        return switch (this) {
            case COME_BACK, COME_BACK_AGAIN, PROVE, UN_DRAIN, UN_QUIET, SOAK -> true;
            case CHECK,
                    BACK_UP,
                    RETURN,
                    RESCUE,
                    REPLACE,
                    MAKE_ROOM,
                    STAGE,
                    CONFIRM_IMAGE,
                    PRE_LOAD,
                    QUIET,
                    CHOOSE_BOOT,
                    RESTART_STANDBYS,
                    DRAIN,
                    RESTART,
                    SECOND_RESTART,
                    PUT_BACK,
                    RESTORE_ROLES,
                    TIDY ->
                    false;
        };
    }

    /** Whether it brings an image to the device, or proves it there. */
    public boolean bringsImage() {
        return this == MAKE_ROOM || this == STAGE || this == CONFIRM_IMAGE;
    }

    /** Whether it interrupts service, or a power cut behind it would. */
    public boolean disturbs() {
        return this == CHOOSE_BOOT
                || this == RESTART_STANDBYS
                || this == RESTART
                || this == SECOND_RESTART
                || this == RESTORE_ROLES;
    }

    /** Whether alarm systems are told something by it. */
    public boolean isForAlarms() {
        return this == QUIET || this == UN_QUIET;
    }

    /**
     * @throws IllegalArgumentException for a word that is not a step
     */
    public static StepName parse(String text) {
        return valueOf(text.replace('-', '_').toUpperCase(Locale.ROOT));
    }

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
