package calmstep.dialect;

import java.util.Optional;

/** Takes down what is typed to a device and what it answers; secrets are masked already. */
public interface Talk {
    Talk NONE =
            new Talk() {
                @Override
                public void typed(String text) {}

                @Override
                public void answered(String text) {}
            };

    void typed(String text);

    void answered(String text);

    /** What the device said of its own accord on its console line; whole lines. */
    default void overheard(String text) {}

    /**
     * What a person wants said to a question that no dialect knows, without the end of its line.
     * Whoever asks says it.
     *
     * @param question with secrets masked
     */
    default Optional<String> answerTo(String question) {
        return Optional.empty();
    }
}
