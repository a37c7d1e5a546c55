package calmstep.core.device;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** A question of a device that nobody foresaw, as trouble tells it. */
public final class UnknownQuestion {
    private static final Pattern SEEN =
            Pattern.compile("the device asks: \"(.*)\"", Pattern.DOTALL);

    private UnknownQuestion() {}

    /**
     * What was seen, in words.
     *
     * @param asked with secrets masked
     */
    public static String seen(String asked) {
        return "the device asks: \"%s\"".formatted(asked);
    }

    /** The question in what was seen; empty where none was asked. */
    public static Optional<String> in(String seen) {
        return Optional.of(SEEN.matcher(seen))
                .filter(Matcher::matches)
                .map(found -> found.group(1));
    }
}
