package calmstep.practice;

import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The command language of a family as a table: what may be said, and what is done then. A language
 * tries its phrases in their order.
 */
final class Phrases {
    /** What a phrase does. */
    interface Deed {
        void obey(Matcher said) throws IOException;
    }

    /** As {@link Deed}, for a phrase that may end the talk. */
    interface LastDeed {
        /**
         * @return whether the talk goes on
         */
        boolean obey(Matcher said) throws IOException;
    }

    private final Map<Pattern, LastDeed> deeds = new LinkedHashMap<>();

    /**
     * @param shape a regular expression over the whole line, without white space at its ends
     */
    Phrases on(String shape, Deed deed) {
        return orLast(
                shape,
                said -> {
                    deed.obey(said);
                    return true;
                });
    }

    Phrases orLast(String shape, LastDeed deed) {
        deeds.put(Pattern.compile(shape), deed);
        return this;
    }

    /** Whether the talk goes on; empty where nobody understands the line. */
    Optional<Boolean> obey(String line) throws IOException {
        for (Map.Entry<Pattern, LastDeed> entry : deeds.entrySet()) {
            Matcher said = entry.getKey().matcher(line);
            if (said.matches()) {
                return Optional.of(entry.getValue().obey(said));
            }
        }
        return Optional.empty();
    }

    /** Talks until the caller goes, a phrase ends the talk, or the machine goes down. */
    void talk(Terminal terminal, Prompt prompt, Unknown unknown) throws IOException {
        while (true) {
            terminal.write(prompt.text());
            Optional<String> line = terminal.readLine().map(String::strip);
            if (line.isEmpty()) {
                return;
            }
            Optional<Boolean> goesOn = line.get().isEmpty() ? Optional.of(true) : obey(line.get());
            if (goesOn.isEmpty()) {
                terminal.show(unknown.answer(line.get()));
            } else if (!goesOn.get()) {
                return;
            }
        }
    }

    /** What stands before each line, as the machine is at that moment. */
    interface Prompt {
        String text();
    }

    /** What is answered to a line that nobody understands. */
    interface Unknown {
        String answer(String line);
    }
}
