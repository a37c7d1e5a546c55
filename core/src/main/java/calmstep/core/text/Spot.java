package calmstep.core.text;

/**
 * A place in a text.
 *
 * @param file name of the text as its owner knows it
 * @param line counted from 1
 * @param column counted from 1
 */
public record Spot(String file, int line, int column) {
    @Override
    public String toString() {
        return "%s:%s:%s".formatted(file, line, column);
    }
}
