package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import calmstep.core.text.Complaint;
import calmstep.core.text.RejectedText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

class DialectTextTest {
    private static List<String> complaints(String from, String to) throws Exception {
        String text = Files.readString(Path.of("../demo/dialects/osmer-r6.yaml"));
        assertThat(text).contains(from);
        return catchThrowableOfType(
                        RejectedText.class,
                        () -> DialectText.read("d.yaml", text.replace(from, to)))
                .complaints()
                .stream()
                .map(Complaint::toString)
                .toList();
    }

    @Test
    void readsTheDemosDialect() throws Exception {
        Dialect dialect =
                DialectText.read(
                        "d.yaml", Files.readString(Path.of("../demo/dialects/osmer-r6.yaml")));
        assertThat(dialect.family()).isEqualTo("osmer-r6");
        assertThat(dialect.acts().keySet())
                .containsExactlyInAnyOrderElementsOf(
                        Stream.concat(
                                        DialectText.ACTS.stream(),
                                        Stream.of(
                                                "put-back",
                                                "take-from",
                                                "load-into-memory",
                                                "start-loaded"))
                                .toList());
        assertThat(dialect.masked("person steward secret abc123\ncommunity xyz"))
                .isEqualTo("person steward secret ••••••\ncommunity ••••••");
    }

    @Test
    void recognisesItsFamilyAndFillsWhatSnmpLeftOpen() throws Exception {
        Recognition osmer =
                DialectText.read(
                                "d.yaml",
                                Files.readString(Path.of("../demo/dialects/osmer-r6.yaml")))
                        .recognition();
        Recognition.Shows greeting =
                new Recognition.Shows("SSH-2.0-OsmerR6_2.6.3", "", "", "", "", "", "", "");
        Recognition.Shows described =
                new Recognition.Shows(
                        "",
                        "1.3.6.1.4.1.32473.6",
                        "rt",
                        "Osmer R6-4 rev C, release 2.8.2",
                        "",
                        "",
                        "S1",
                        "");
        Recognition.Shows pretender =
                new Recognition.Shows(
                        "SSH-2.0-OsmerR6_2.6.3", "1.3.6.1.4.1.32473.60", "", "", "", "", "", "");
        assertThat(osmer.recognises(greeting)).isTrue();
        assertThat(osmer.completed(greeting).release()).isEqualTo("2.6.3");
        assertThat(osmer.recognises(described)).isTrue();
        assertThat(osmer.completed(described))
                .isEqualTo(
                        new Recognition.Shows(
                                "",
                                "1.3.6.1.4.1.32473.6",
                                "rt",
                                "Osmer R6-4 rev C, release 2.8.2",
                                "R6-4",
                                "C",
                                "S1",
                                "2.8.2"));
        assertThat(osmer.recognises(pretender))
                .as("an object identifier of another family decides")
                .isFalse();
        assertThat(Recognition.NONE.recognises(greeting)).isFalse();
    }

    @Test
    void halfAWayOutOfTheBootLoaderIsNone() throws Exception {
        assertThat(
                        complaints(
                                "  start-loaded: [{ send: start memory, expect: '^starting from"
                                        + " memory$' }]\n",
                                ""))
                .singleElement()
                .asString()
                .contains("A rescue needs \"loader-prompt\" and both acts");
        assertThat(complaints("loader-prompt: '^loader> $'\n", ""))
                .singleElement()
                .asString()
                .contains("A rescue needs \"loader-prompt\"");
    }

    @Test
    void whatIsDrainedCanBeShownAndUndone() throws Exception {
        String pair = Files.readString(Path.of("../demo/dialects/brannoch-b2.yaml"));
        assertThat(DialectText.read("d.yaml", pair).abilities().drains()).isTrue();
        assertThatThrownBy(
                        () ->
                                DialectText.read(
                                        "d.yaml", pair.replaceAll("(?m)^  undrained: .*\n", "")))
                .isInstanceOf(RejectedText.class)
                .hasMessageContaining("undrained missing beside the others of its kind");
    }

    @Test
    void everyMistakeIsNamedWithItsPlace() throws Exception {
        assertThat(complaints("answers-within: 15 s", "answers-within: soon"))
                .singleElement()
                .asString()
                .startsWith("d.yaml:18:17: Expected a duration");
        assertThat(complaints("loader-prompt: '^loader> $'", "loader-prompt: '^(loader> $'"))
                .singleElement()
                .asString()
                .contains("d.yaml:19:16: This is not a regular expression: Unclosed group");
        assertThat(complaints("what: serial", "what: seriel"))
                .anyMatch(c -> c.contains("did you mean \"serial\"?"))
                .anyMatch(c -> c.contains("No command of the reading tells \"serial\""));
        assertThat(complaints("shows: '^serial\\s+(?<value>\\S+)$'", "shows: '^serial\\s+\\S+$'"))
                .singleElement()
                .asString()
                .contains("needs the group (?<value>…)");
        assertThat(
                        complaints(
                                "  restart:\n    - send: do restart",
                                "  reboot:\n    - send: do restart"))
                .anyMatch(c -> c.contains("The act \"restart\" is missing"))
                .anyMatch(c -> c.contains("\"reboot\" is not known here"));
        assertThat(
                        complaints(
                                "answers-within: 15 s",
                                "answers-within: 15 s\nlocks-out: { after: 1, within: 5 min }"))
                .singleElement()
                .asString()
                .contains("from 2 to 100; saw 1");
        assertThat(complaints("do digest {file}", "do digest {fiel}"))
                .singleElement()
                .asString()
                .contains("\"{fiel}\" stands for nothing; did you mean \"file\"?");
    }
}
