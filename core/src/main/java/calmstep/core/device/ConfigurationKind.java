package calmstep.core.device;

import java.util.Locale;

/** Which configuration. */
public enum ConfigurationKind {
    RUNNING,
    STARTUP;

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
