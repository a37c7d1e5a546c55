package calmstep.dialect;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.Trouble;
import calmstep.dialect.Dialect.ErrorLine;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Matcher;

/** How trouble with a device is worded in its dialect. */
record Wording(Dialect dialect) {
    private static final int LAST_LINES = 12;

    /**
     * @throws DeviceTrouble when the answer is one of the dialect's errors
     */
    void mustNotBeRefused(String command, String answer) {
        for (ErrorLine error : dialect.errors()) {
            Matcher matcher = error.shows().matcher(answer);
            if (matcher.find()) {
                throw trouble(
                        Kind.REFUSED_BY_DEVICE,
                        "an answer to \"%s\"".formatted(dialect.masked(command)),
                        "%s: %s".formatted(error.means(), dialect.masked(matcher.group().strip())),
                        "Look at the device's last lines; the step can be tried again.",
                        answer);
            }
        }
    }

    DeviceTrouble trouble(Kind kind, String expected, String seen, String remedy, String lastTalk) {
        List<String> lines =
                Arrays.stream(dialect.masked(lastTalk).split("\n"))
                        .map(String::stripTrailing)
                        .filter(l -> !l.isBlank())
                        .toList();
        return new DeviceTrouble(
                kind,
                new Trouble(
                        expected,
                        seen,
                        remedy,
                        lines.subList(Math.max(0, lines.size() - LAST_LINES), lines.size())));
    }
}
