package calmstep.dialect;

import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.BackupKind;
import calmstep.core.plan.Abilities;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Pattern;

/**
 * How to speak to a family.
 *
 * @param over what carries the talk
 * @param signsIn over HTTPS: how one signs in there, where it is asked for
 * @param recognition how the family is recognised by somebody who does not know it yet
 * @param prompt what the device shows when it waits for a command; matched at the end of what came
 * @param pager how to answer when a long answer stops
 * @param question what a question looks like at the end of what came, known or not
 * @param backOut what to send to get out of a question that nobody expected
 * @param errors lines that mean that a command was refused
 * @param answersWithin the usual limit for an answer
 * @param locksOut after which refusals the family locks a user out
 * @param entering what a session needs first: a privilege step, a plain prompt
 * @param loaderPrompt what the console line shows when the device stands in its boot loader
 * @param readings commands whose answers make a reading
 * @param configurations how to get what is kept, by kind: {@code running} and {@code startup}
 *     first, then what else the family can give
 * @param cannotGive what is worth keeping and cannot be pulled off, in words
 * @param acts commands of each act
 * @param installs commands that hand a file to a component beside the system, by component
 * @param complaints lines on the console line by which it complains while it starts
 * @param volatileLines lines of a configuration that mean nothing
 * @param secrets what to mask wherever it is recorded
 */
public record Dialect(
        String family,
        String title,
        Carrier over,
        Optional<SignIn> signsIn,
        Recognition recognition,
        Pattern prompt,
        Optional<Pager> pager,
        Pattern question,
        String backOut,
        List<ErrorLine> errors,
        Duration answersWithin,
        SignIns.LockOut locksOut,
        List<Entry> entering,
        Optional<Pattern> loaderPrompt,
        List<ReadCommand> readings,
        Map<String, ConfigurationCommand> configurations,
        List<String> cannotGive,
        Map<String, List<ActCommand>> acts,
        Map<String, List<ActCommand>> installs,
        List<Pattern> complaints,
        List<Pattern> volatileLines,
        List<Pattern> secrets) {
    static final String MASK = "••••••";

    /** What the family can give to be kept. */
    public List<BackupKind> kinds() {
        return configurations.keySet().stream().map(BackupKind::new).toList();
    }

    /** What a run can do with devices that are spoken to so. */
    public Abilities abilities() {
        return new Abilities(
                installs.keySet(),
                acts.containsKey("restart-member"),
                acts.containsKey("pre-load"),
                putsBack(BackupKind.RUNNING),
                acts.containsKey("take-from"),
                acts.keySet().containsAll(DialectText.FEEDING),
                acts.containsKey(LoaderAtConsole.LOAD),
                acts.containsKey("drain"),
                cannotGive);
    }

    /** Whether what was pulled off can be written into a device again. */
    public boolean putsBack(BackupKind kind) {
        return !puttingBack(kind).isEmpty();
    }

    List<ActCommand> puttingBack(BackupKind kind) {
        return kind.isConfiguration()
                ? acts.getOrDefault("put-back", List.of())
                : Optional.ofNullable(configurations.get(kind.name()))
                        .map(ConfigurationCommand::putBack)
                        .orElse(List.of());
    }

    /** Whether a device that is spoken to so says whether it reaches an address. */
    public boolean canBeAskedWhatItReaches() {
        return !acts.getOrDefault("reach", List.of()).isEmpty();
    }

    /** Every secret in the text replaced. */
    public String masked(String text) {
        String masked = text;
        for (Pattern secret : secrets) {
            masked = secret.matcher(masked).replaceAll(MASK);
        }
        return masked;
    }

    /**
     * What a device complains of in what it said on its console line while it started.
     *
     * @param overheard whole lines
     */
    public List<String> complaintsIn(String overheard) {
        return overheard
                .lines()
                .map(String::strip)
                .filter(line -> complaints.stream().anyMatch(one -> one.matcher(line).find()))
                .distinct()
                .toList();
    }

    /**
     * Two configurations of this family compared without their volatile lines; what differs is
     * given with its secrets masked.
     */
    public ConfigurationComparison compare(String before, String after) {
        ConfigurationComparison clear = ConfigurationComparison.of(before, after, volatileLines);
        return new ConfigurationComparison(
                clear.dropped().stream().map(this::masked).toList(),
                clear.added().stream().map(this::masked).toList());
    }

    record Pager(Pattern shows, String press) {}

    /** A line that means an error, and what it means in the words of the trade. */
    record ErrorLine(Pattern shows, String means) {}

    /** A command and what its answer tells. */
    record ReadCommand(String send, List<Find> finds) {}

    /**
     * What to find in an answer.
     *
     * @param kind for facts, releases and what waits: which; for parts: what they are to the device
     * @param means what the family's words are in ours
     * @param component of parts: whose release the name "runs" tells; empty where components are
     *     told by their own names
     */
    record Find(
            What what,
            String kind,
            Sight sight,
            boolean optional,
            Map<String, String> means,
            String component) {
        /** What a row tells under a name, in our words; empty where it does not. */
        String said(Sight.Row row, String name) {
            String text = row.text(name);
            return means.getOrDefault(text, text);
        }

        /**
         * The components of a part that it tells: one by the key "component", or those that are
         * named beside the words of every part.
         */
        Map<String, String> releases(Sight.Row row) {
            Map<String, String> releases = new TreeMap<>();
            if (component.isEmpty()) {
                DialectWords.componentsAmong(sight.names())
                        .forEach(name -> releases.put(name, said(row, name)));
            } else {
                releases.put(component, said(row, DialectText.RUNS));
            }
            releases.values().removeIf(String::isEmpty);
            return releases;
        }
    }

    /** What carries the talk with a family. */
    public enum Carrier {
        SSH,
        HTTPS,
        SNMP;

        static Carrier parse(String text) {
            for (Carrier carrier : values()) {
                if (carrier.toString().equals(text)) {
                    return carrier;
                }
            }
            throw new IllegalArgumentException(
                    "Expected ssh, https or snmp, saw \"%s\".".formatted(text));
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * How one signs in over HTTPS.
     *
     * @param send the command, with {@code {user}} and {@code {password}}
     * @param token where its answer has the token
     * @param header the line that each later request carries, with {@code {token}}
     */
    record SignIn(String send, Sight token, String header) {}

    /** What an answer can tell. */
    enum What {
        HOST_NAME,
        MODEL,
        REVISION,
        REGION,
        BRAND,
        FEATURE,
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

    /**
     * @param sight where the lines stand in the answer, each under {@code value}; empty where the
     *     answer is the text itself
     * @param putBack how it is written into a device, where it is something else than a
     *     configuration; empty where the family cannot
     */
    record ConfigurationCommand(
            String send, Pattern endMark, Optional<Sight> sight, List<ActCommand> putBack) {}

    /**
     * One command of an act.
     *
     * @param send may hold {@code {file}}, {@code {fallback}}, {@code {source}}, {@code {member}},
     *     {@code {address}}
     * @param expect what a good answer shows; its group {@code value}, where it has one, is the
     *     act's result
     * @param absent what an answer shows that means "there is no such thing", where the act asks
     *     for something
     * @param endsLine whether the device may drop the line instead of prompting again
     * @param until what an answer shows when what was begun is over: until then the command is said
     *     again every so often
     * @param uploads whether the file itself goes with the command
     */
    record ActCommand(
            String send,
            List<Answer> answers,
            Pattern expect,
            Optional<Pattern> absent,
            Duration within,
            boolean endsLine,
            Optional<Pattern> until,
            boolean uploads) {}

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
