package calmstep.core.path;

/**
 * A rule as a reason.
 *
 * @param rule identifier of the rule
 * @param sentence what it says, for people
 * @param source the note that it comes from
 */
public record Reason(String rule, String sentence, String source) {
    @Override
    public String toString() {
        return "%s (%s)".formatted(sentence, rule);
    }
}
