package calmstep.core.catalogue;

import java.util.Locale;

/** How a release was published. */
public enum Channel {
    GENERAL,
    EARLY,
    TRIAL,
    CUSTOM,
    WITHDRAWN;

    /**
     * @throws IllegalArgumentException for a word that is not a channel
     */
    public static Channel parse(String text) {
        for (Channel channel : values()) {
            if (channel.toString().equals(text)) {
                return channel;
            }
        }
        throw new IllegalArgumentException(
                "Expected a channel (general, early, trial, custom or withdrawn), saw \"%s\"."
                        .formatted(text));
    }

    /** Early and trial releases count as unproven in the cost of a path. */
    public boolean isProven() {
        return this == GENERAL || this == CUSTOM;
    }

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
