package calmstep.core.reach;

/** Two devices that a line joins. */
public record Link(String one, String other) {
    public Link {
        if (one.equals(other)) {
            throw new IllegalArgumentException(
                    "A link joins two devices; saw %s at both ends".formatted(one));
        }
    }
}
