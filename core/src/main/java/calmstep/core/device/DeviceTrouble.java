package calmstep.core.device;

/** Talk with a device did not go as its dialect describes. */
public final class DeviceTrouble extends RuntimeException {
    /** What kind of trouble; decides whether trying again can help. */
    public enum Kind {
        NO_ANSWER,
        SIGN_IN_REFUSED,
        HOST_KEY_CHANGED,
        UNKNOWN_QUESTION,
        REFUSED_BY_DEVICE,
        TIMED_OUT,
        LINK_LOST,
        UNREADABLE_ANSWER,
        SOURCE_NOT_REACHED
    }

    private final Kind kind;
    private final transient Trouble trouble;

    public DeviceTrouble(Kind kind, Trouble trouble) {
        super(trouble.sentence());
        this.kind = kind;
        this.trouble = trouble;
    }

    public Kind kind() {
        return kind;
    }

    /** Whether nothing came through: the device may be going down, coming up, or handing over. */
    public boolean isSilence() {
        return switch (kind) {
            case NO_ANSWER, LINK_LOST, TIMED_OUT -> true;
            case SIGN_IN_REFUSED,
                    HOST_KEY_CHANGED,
                    UNKNOWN_QUESTION,
                    REFUSED_BY_DEVICE,
                    UNREADABLE_ANSWER,
                    SOURCE_NOT_REACHED ->
                    false;
        };
    }

    public Trouble trouble() {
        return trouble;
    }
}
