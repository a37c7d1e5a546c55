package calmstep.core.text;

/**
 * Something that is wrong in a text: where, and a sentence that says what was expected, what was
 * seen and what to do.
 */
public record Complaint(Spot spot, String sentence) {
    @Override
    public String toString() {
        return spot + ": " + sentence;
    }
}
