package calmstep.core.plan;

import java.util.List;

/**
 * A concern in words.
 *
 * @param key names it within the plan: the same concern has the same key when the plan is worked
 *     out again
 * @param fact what is so
 * @param remedy what to do about it; empty for notes
 * @param choices what can be said to it; empty unless it is a caution
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

    public Finding {
        choices = List.copyOf(choices);
    }

    /** Whether a finding is about the nights, which are worked out on their own. */
    public boolean isOfNights() {
        return key.endsWith("/" + FITS_NOWHERE) || key.contains("/" + MAY_RUN_OVER);
    }

    static Finding stop(String device, String key, String fact, String remedy) {
        return new Finding(device + "/" + key, Severity.STOP, device, fact, remedy, List.of());
    }

    static Finding caution(
            String device, String key, String fact, String remedy, Choice... choices) {
        return new Finding(
                device + "/" + key, Severity.CAUTION, device, fact, remedy, List.of(choices));
    }

    static Finding note(String device, String key, String fact) {
        return new Finding(device + "/" + key, Severity.NOTE, device, fact, "", List.of());
    }
}
