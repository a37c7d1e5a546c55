package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.dialect.DialectCheck.Command;
import calmstep.dialect.DialectCheck.Result;
import calmstep.dialect.DialectCheck.Taken;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/**
 * The example of the author's guide, as it stands there, and what a check says when something of it
 * is wrong.
 */
class DialectGuideTest {
    private static String block(String kind) throws Exception {
        String guide = Files.readString(Path.of("../docs/dialect-guide.md"));
        int begins = guide.indexOf("```%s\n".formatted(kind)) + kind.length() + 4;
        return guide.substring(begins, guide.indexOf("```", begins));
    }

    private static Result check(String from, String to, String said, String instead)
            throws Exception {
        assertThat(block("yaml")).contains(from);
        assertThat(block("session")).contains(said);
        return DialectCheck.of(
                DialectText.read("halvig-k1.yaml", block("yaml").replace(from, to)),
                DialectCheck.session(block("session").replace(said, instead)));
    }

    private static Command command(Result result, String send) {
        return result.commands().stream()
                .filter(c -> c.send().equals(send))
                .findFirst()
                .orElseThrow();
    }

    private static List<String> values(Result result, String send, String what) {
        return command(result, send).taken().stream()
                .filter(t -> t.what().equals(what))
                .findFirst()
                .map(Taken::values)
                .orElseThrow();
    }

    @Test
    void theGuidesDialectTakesFromTheGuidesSessionWhatTheGuideSays() throws Exception {
        Result result = check("", "", "", "");
        assertThat(result.isGood()).isTrue();
        assertThat(result.unknown()).containsExactly("tell weather");
        assertThat(values(result, "tell me", "release lamp")).containsExactly("6");
        assertThat(values(result, "tell me", "boot-mark")).containsExactly("start 41");
        assertThat(values(result, "tell images", "file"))
                .containsExactly("k1-4.1.img, 900 bytes", "k1-4.4.img, 1000 bytes");
        assertThat(values(result, "tell images", "saved")).containsExactly("yes");
        assertThat(values(result, "tell changes", "unsaved")).containsExactly("no");
        assertThat(values(result, "tell settings", "end mark"))
                .containsExactly("end of settings, after 3 lines");
        assertThat(values(result, "sum {file}", "expect"))
                .singleElement()
                .asString()
                .startsWith("2c26b46b");
        assertThat(command(result, "start again").recorded()).isFalse();
    }

    @Test
    void namesThePatternThatFindsNothing() throws Exception {
        Result result = check("no\\. (?<value>K-\\d+)", "number (?<value>K-\\d+)", "", "");
        assertThat(result.isGood()).isFalse();
        assertThat(command(result, "tell me").taken())
                .filteredOn(Taken::missing)
                .extracting(Taken::what)
                .containsExactly("serial");
    }

    @Test
    void tellsARefusalAndACutAnswer() throws Exception {
        Result refused =
                check("", "", ">> tell changes\nnone", ">> tell changes\nno: not at night");
        assertThat(command(refused, "tell changes").refused())
                .isEqualTo("the controller refuses: no: not at night");
        assertThat(refused.isGood()).isFalse();
        Result cut =
                check(
                        "",
                        "",
                        "beam 12 s\nend of settings\n>> tell first",
                        "beam 12 s\n>> tell first");
        assertThat(command(cut, "tell settings").taken())
                .extracting(Taken::missing)
                .containsExactly(true);
    }

    @Test
    void aSessionOfTheDemoIsTriedLiveAndNothingIsChanged(
            @org.junit.jupiter.api.io.TempDir Path folder) throws Exception {
        try (UnitNight night =
                        new UnitNight(
                                folder,
                                "tarnel-t2",
                                "practice-switches.yaml",
                                "sw-ostrand-1",
                                "6.1.2");
                Door door = night.door()) {
            Result result = DialectCheck.of(door);
            assertThat(result.trouble()).isEqualTo(Optional.empty());
            assertThat(result.isGood()).as("%s", result).isTrue();
            assertThat(values(result, "members:", "part member"))
                    .containsExactly(
                            "1, active, in sync, T2-48, TA-10191, loader 1.9, system 6.1.0",
                            "2, standby, in sync, T2-48, TA-10191-2, loader 1.9, system 6.1.0");
            assertThat(night.talk.stream().filter(said -> said.startsWith("typed ")))
                    .noneMatch(said -> said.contains("!"));
            String mistaken =
                    Files.readString(Path.of("../demo/dialects/tarnel-t2.yaml"))
                            .replace("prompt: '^[a-z0-9-]+\\.", "prompt: '^[a-z]+\\.")
                            .replace("15 s", "1 s");
            Result wrong =
                    DialectCheck.of(night.door(DialectText.read("tarnel-t2.yaml", mistaken)));
            assertThat(wrong.trouble()).isPresent();
            assertThat(wrong.trouble().get().lastLines())
                    .as("the device's own words, to mend the prompt by")
                    .anyMatch(line -> line.contains("sw-ostrand-1.1 ~"));
        }
    }
}
