package calmstep.core.catalogue;

/** What an image is for; only an upgrade image is ever put on a running device by a plan. */
public enum Purpose {
    UPGRADE("upgrade"),
    FIRST_INSTALL("first-install"),
    RECOVERY("recovery");

    private final String word;

    Purpose(String word) {
        this.word = word;
    }

    /**
     * @throws IllegalArgumentException for a word that is not a purpose
     */
    public static Purpose parse(String text) {
        for (Purpose purpose : values()) {
            if (purpose.word.equals(text)) {
                return purpose;
            }
        }
        throw new IllegalArgumentException(
                "Expected a purpose (upgrade, first-install or recovery), saw \"%s\"."
                        .formatted(text));
    }

    @Override
    public String toString() {
        return word;
    }
}
