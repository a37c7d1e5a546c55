package calmstep.core.plan;

import java.util.List;

/**
 * A concern in words.
 *
 * @param key names it within the plan: the same concern has the same key when the plan is worked
 *     out again
 * @param device the one that it is about; empty where it is about the plan
 * @param fact what is so
 * @param remedy what to do about it; empty for notes
 * @param choices what can be said to it; to a stop, that the unit is left out; empty for notes
 */
public record Finding(
        String key,
        Severity severity,
        String device,
        String fact,
        String remedy,
        List<Choice> choices) {
    static final String FITS_NOWHERE = "fits-nowhere";
    static final String MAY_RUN_OVER = "night-may-run-over-";
    static final String OUTSIDE_WINDOWS = "outside-windows-";
    static final String ENDS_BEFORE_ITS_TURN = "ends-before-its-turn-";
    static final String ASKS_NOBODY = "asks-nobody";
    static final String GOES_ON_WHEN_ODD = "goes-on-when-odd";

    public Finding {
        choices = List.copyOf(choices);
    }

    /** What it is about, without the device that it is about. */
    String kind() {
        return key.substring(device.length() + 1);
    }

    /** Whether a finding is about the nights, which are worked out on their own. */
    public boolean isOfNights() {
        return kind().equals(FITS_NOWHERE)
                || kind().equals(ASKS_NOBODY)
                || kind().equals(GOES_ON_WHEN_ODD)
                || kind().startsWith(MAY_RUN_OVER)
                || kind().startsWith(OUTSIDE_WINDOWS)
                || kind().startsWith(ENDS_BEFORE_ITS_TURN);
    }

    static Finding stop(String device, String key, String fact, String remedy) {
        return new Finding(
                device + "/" + key, Severity.STOP, device, fact, remedy, List.of(Choice.LEAVE_OUT));
    }

    static Finding caution(
            String device, String key, String fact, String remedy, Choice... choices) {
        return new Finding(
                device + "/" + key, Severity.CAUTION, device, fact, remedy, List.of(choices));
    }

    /** A caution that a person accepts with a reason, or else leaves the device out. */
    static Finding toAccept(String device, String key, String fact, String remedy) {
        return caution(device, key, fact, remedy, Choice.ACCEPT, Choice.LEAVE_OUT);
    }

    static Finding note(String device, String key, String fact) {
        return new Finding(device + "/" + key, Severity.NOTE, device, fact, "", List.of());
    }
}
