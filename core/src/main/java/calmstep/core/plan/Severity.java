package calmstep.core.plan;

import java.util.Locale;

/** How much a finding weighs. */
public enum Severity {
    STOP,
    CAUTION,
    NOTE;

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
