package calmstep.dialect;

import calmstep.core.compare.ConfigurationComparison;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How to speak to a family.
 *
 * @param recognition    how the family is recognised by somebody who does not know it yet
 * @param prompt         what the device shows when it waits for a command; matched at the end of what came
 * @param pager          how to answer when a long answer stops
 * @param question       what a question looks like at the end of what came, known or not
 * @param backOut        what to send to get out of a question that nobody expected
 * @param errors         lines that mean that a command was refused
 * @param answersWithin  the usual limit for an answer
 * @param entering       what a session needs first: a privilege step, a plain prompt
 * @param loaderPrompt   what the console line shows when the device stands in its boot loader
 * @param readings       commands whose answers make a reading
 * @param configurations how to get a configuration, by kind ({@code running}, {@code startup})
 * @param acts           commands of each act
 * @param installs       commands that hand a file to a component beside the system, by component
 * @param volatileLines  lines of a configuration that mean nothing
 * @param secrets        what to mask wherever it is recorded
 */
public record Dialect(
        String family,
        String title,
        Recognition recognition,
        Pattern prompt,
        Optional<Pager> pager,
        Pattern question,
        String backOut,
        List<ErrorLine> errors,
        Duration answersWithin,
        List<Entry> entering,
        Optional<Pattern> loaderPrompt,
        List<ReadCommand> readings,
        Map<String, ConfigurationCommand> configurations,
        Map<String, List<ActCommand>> acts,
        Map<String, List<ActCommand>> installs,
        List<Pattern> volatileLines,
        List<Pattern> secrets) {
    static final String MASK = "••••••";

    /** Whether it tells how a member restarts while the others serve. */
    public boolean restartsMembers() {
        return acts.containsKey("restart-member");
    }

    /** Every secret in the text replaced. */
    public String masked(String text) {
        String masked = text;
        for (Pattern secret : secrets) {
            masked = secret.matcher(masked).replaceAll(MASK);
        }
        return masked;
    }

    /** Two configurations of this family compared without their volatile lines; what differs is given with its secrets masked. */
    public ConfigurationComparison compare(String before, String after) {
        ConfigurationComparison clear = ConfigurationComparison.of(before, after, volatileLines);
        return new ConfigurationComparison(clear.dropped().stream().map(this::masked).toList(), clear.added().stream().map(this::masked).toList());
    }

    record Pager(Pattern shows, String press) {}

    /** A line that means an error, and what it means in the words of the trade. */
    record ErrorLine(Pattern shows, String means) {}

    /** A command and what its answer tells. */
    record ReadCommand(String send, List<Find> finds) {}

    /**
     * What to find in an answer.
     *
     * @param kind  for facts, releases and what waits: which; for parts: what they are to the device
     * @param means what the family's words are in ours
     */
    record Find(What what, String kind, Pattern shows, boolean optional, Map<String, String> means) {
        /** What a group of a match tells, in our words; empty where the pattern has no such group or it took no part. */
        String said(Matcher match, String group) {
            String text = shows.namedGroups().containsKey(group) ? match.group(group) : null;
            return text == null ? "" : means.getOrDefault(text, text);
        }
    }

    /** What an answer can tell. */
    enum What {
        HOST_NAME,
        MODEL,
        REVISION,
        SERIAL,
        BOOT_MARK,
        RELEASE,
        RUNNING,
        NEXT,
        FALLBACK,
        SAVED,
        UNSAVED,
        VOLUME,
        FILE,
        FACT,
        PART,
        WAITING
    }

    record ConfigurationCommand(String send, Pattern endMark) {}

    /**
     * One command of an act.
     *
     * @param send     may hold {@code {file}}, {@code {fallback}}, {@code {source}}, {@code {member}}
     * @param expect   what a good answer shows; its group {@code value}, where it has one, is the act's result
     * @param absent   what an answer shows that means "there is no such thing", where the act asks for something
     * @param endsLine whether the device may drop the line instead of prompting again
     */
    record ActCommand(String send, List<Answer> answers, Pattern expect, Optional<Pattern> absent, Duration within, boolean endsLine) {}

    /** A question that may come, and what to say to it. */
    record Answer(Pattern shows, String say) {
        /** With the login's own password where the answer asks for it. */
        Answer saying(String password) {
            return new Answer(shows, say.replace("{password}", password));
        }
    }

    /** One thing that is sent after signing in. */
    record Entry(String send, List<Answer> answers, Duration within) {}
}
