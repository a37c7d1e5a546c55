package calmstep.dialect;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.dialect.Dialect.Answer;
import java.io.IOException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.snmp4j.smi.Integer32;
import org.snmp4j.smi.OID;
import org.snmp4j.smi.OctetString;
import org.snmp4j.smi.Variable;

/**
 * Objects over SNMP. A command is {@code get NUMBER…}, {@code walk NUMBER} for everything below it,
 * or {@code set NUMBER text VALUE} and {@code set NUMBER number VALUE}; the answer has a line for
 * each object, {@code NUMBER = VALUE}, in the order of numbers. A line break inside a value is
 * written {@code \n}.
 */
final class ObjectExchange implements Exchange {
    private static final Pattern COMMAND =
            Pattern.compile(
                    "(?<how>get|walk)(?<numbers>(?: [\\d.]+)+)|set (?<number>[\\d.]+)"
                            + " (?<kind>text|number) (?<value>.*)");

    private final Dialect dialect;
    private final SnmpAsk.Device agent;
    private final Talk talk;
    private final String device;
    private final Wording wording;

    ObjectExchange(Dialect dialect, SnmpAsk.Device agent, Talk talk, String device) {
        this.dialect = dialect;
        this.agent = agent;
        this.talk = talk;
        this.device = device;
        wording = new Wording(dialect);
    }

    /** One object of an answer. */
    record Shown(String number, String value) {
        /**
         * Each part of a number has 32 bits (RFC 2578, section 7.1.3); nine digits of them are
         * always enough here.
         */
        private static final Pattern OBJECT = Pattern.compile("^\\d{1,9}(?:\\.\\d{1,9}){1,126} = ");

        static List<Shown> in(String answer) {
            return answer.lines()
                    .filter(line -> OBJECT.matcher(line).find())
                    .map(
                            line ->
                                    new Shown(
                                            line.substring(0, line.indexOf(" = ")),
                                            line.substring(line.indexOf(" = ") + 3)
                                                    .replace("\\n", "\n")))
                    .toList();
        }

        private static String line(OID number, Variable value) {
            String text =
                    value instanceof OctetString octets
                            ? new String(octets.getValue(), java.nio.charset.StandardCharsets.UTF_8)
                            : value.toString();
            return "%s = %s"
                    .formatted(
                            number.toDottedString(), text.replace("\r", "").replace("\n", "\\n"));
        }
    }

    @Override
    public Said command(String command, List<Answer> answers, Duration within, boolean endsLine) {
        talk.typed(dialect.masked(command));
        String answer;
        try {
            answer = text(asked(command));
        } catch (SnmpAsk.Silent silent) {
            if (endsLine) {
                return new Said("", true);
            }
            throw silentTrouble();
        } catch (IOException failed) {
            throw lostTrouble(failed);
        }
        talk.answered(dialect.masked(answer));
        wording.mustNotBeRefused(command, answer);
        return new Said(answer, false);
    }

    private DeviceTrouble lostTrouble(IOException failed) {
        return trouble(
                Kind.LINK_LOST,
                "%s answers by SNMP".formatted(device),
                String.valueOf(failed.getMessage()),
                "Look at the network here.",
                "");
    }

    private DeviceTrouble silentTrouble() {
        return trouble(
                Kind.NO_ANSWER,
                "%s answers by SNMP".formatted(device),
                "no answer",
                "Look whether it has power, whether this network reaches it, and whether the"
                        + " login is right: a wrong one is not answered either.",
                "");
    }

    private Map<OID, Variable> asked(String command) throws IOException {
        Matcher parts = COMMAND.matcher(command);
        if (!parts.matches()) {
            throw malformed(command);
        }
        if (parts.group("how") == null) {
            return set(parts, command);
        }
        List<OID> numbers = new ArrayList<>();
        for (String number : parts.group("numbers").strip().split(" ")) {
            numbers.add(new OID(number));
        }
        return parts.group("how").equals("get")
                ? agent.get(numbers)
                : agent.walk(numbers.getFirst());
    }

    private DeviceTrouble malformed(String command) {
        return trouble(
                Kind.REFUSED_BY_DEVICE,
                "a command of the form get, walk or set",
                dialect.masked(command),
                "Mend the dialect.",
                "");
    }

    private Map<OID, Variable> set(Matcher parts, String command) throws IOException {
        String value = parts.group("value");
        return refusedOr(
                command,
                agent.set(
                        new OID(parts.group("number")),
                        parts.group("kind").equals("text")
                                ? new OctetString(
                                        value.getBytes(java.nio.charset.StandardCharsets.UTF_8))
                                : new Integer32(Integer.parseInt(value.strip()))));
    }

    private Map<OID, Variable> refusedOr(String command, SnmpAsk.Answered answered) {
        if (!answered.error().isEmpty()) {
            throw trouble(
                    Kind.REFUSED_BY_DEVICE,
                    "an answer to \"%s\"".formatted(dialect.masked(command)),
                    answered.error(),
                    "Look at the device; the step can be tried again.",
                    "");
        }
        return answered.values();
    }

    private static String text(Map<OID, Variable> values) {
        return values.entrySet().stream()
                .sorted(Map.Entry.comparingByKey())
                .map(entry -> Shown.line(entry.getKey(), entry.getValue()) + "\n")
                .collect(Collectors.joining());
    }

    @Override
    public DeviceTrouble trouble(
            Kind kind, String expected, String seen, String remedy, String lastTalk) {
        return wording.trouble(kind, expected, seen, remedy, lastTalk);
    }

    @Override
    public void close() {
        agent.close();
    }
}
