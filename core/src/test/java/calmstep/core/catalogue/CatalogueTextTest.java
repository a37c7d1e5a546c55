package calmstep.core.catalogue;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import calmstep.core.path.Kind;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.PathSearch;
import calmstep.core.path.Preference;
import calmstep.core.text.Complaint;
import calmstep.core.text.RejectedText;
import calmstep.core.version.Version;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

class CatalogueTextTest {
    private static String demo() throws Exception {
        return Files.readString(Path.of("../demo/catalogue/osmer-r6.yaml"));
    }

    /** What is said when one place of the demo's catalogue is changed. */
    private static List<String> complaints(String from, String to) throws Exception {
        assertThat(demo()).contains(from);
        return catchThrowableOfType(
                        RejectedText.class,
                        () ->
                                CatalogueText.read(
                                        "c.yaml",
                                        demo().replaceFirst(
                                                        java.util.regex.Pattern.quote(from), to)))
                .complaints()
                .stream()
                .map(Complaint::toString)
                .toList();
    }

    @Test
    void readsTheDemosCatalogue() throws Exception {
        Catalogue catalogue = CatalogueText.read("c.yaml", demo());
        assertThat(catalogue.recommended()).map(r -> r.version().text()).contains("2.8.2");
        assertThat(catalogue.general().stream().findFirst())
                .map(r -> r.version().text())
                .contains("2.8.2");
        assertThat(catalogue.findImage("osmer-r6b-2.8.2.img"))
                .map(p -> p.image().variant().revisions())
                .contains(List.of("B"));
        assertThat(
                        catalogue
                                .effectOf(catalogue.recommended().orElseThrow(), Optional.empty())
                                .dark())
                .isEqualTo(Duration.ofMinutes(4));
        assertThat(catalogue.giveUpAfter()).isEqualTo(Duration.ofMinutes(20));
    }

    @Test
    void readsHowMembersHangTogether() throws Exception {
        String text =
                demo()
                        + "\n"
                        + "unit: { one-is-active: true, may-be-out: 2, member-restarts-in: 3 min,"
                        + " hands-over-in: 5 s }\n";
        assertThat(CatalogueText.read("c.yaml", text).grouping())
                .contains(
                        new Grouping(
                                true,
                                2,
                                Duration.ofMinutes(3),
                                Duration.ofMinutes(5),
                                Duration.ofSeconds(5),
                                Duration.ZERO));
        assertThat(CatalogueText.read("c.yaml", demo()).grouping())
                .as("a family of single devices")
                .isEmpty();
        assertThat(
                        org.assertj.core.api.Assertions.catchThrowable(
                                () ->
                                        CatalogueText.read(
                                                "c.yaml",
                                                text.replace("may-be-out: 2", "may-be-out: -1"))))
                .hasMessageContaining("minimum");
    }

    @Test
    void namesEachMistakeAtItsPlace() throws Exception {
        assertThat(complaints("catalogue: 1", "catalogue: 2"))
                .singleElement()
                .asString()
                .startsWith("c.yaml:2:12: Expected \"catalogue: 1\"");
        assertThat(complaints("issued: 2026-11-09", "issued: soon"))
                .singleElement()
                .asString()
                .contains("Expected a date such as 2026-03-14, saw \"soon\"");
        assertThat(complaints("version: 2.1.4", "version: 2.1"))
                .singleElement()
                .asString()
                .contains("c.yaml:13:14: Expected a version such as \"2.4.0\", saw \"2.1\"");
        assertThat(complaints("channel: early", "channel: nightly"))
                .singleElement()
                .asString()
                .contains("Expected a channel (general, early, trial, custom or withdrawn)");
        assertThat(complaints("version: 2.2.1", "version: 2.1.4"))
                .anyMatch(c -> c.contains("The release 2.1.4 of system is described twice"))
                .anyMatch(c -> c.contains("The release 2.2.1 of system is not in this catalogue"));
        assertThat(complaints("osmer-r6c-2.2.1.img", "osmer-r6c-2.1.4.img"))
                .singleElement()
                .asString()
                .contains("The file osmer-r6c-2.1.4.img is published twice");
        assertThat(complaints("osmer-r6c-2.2.1.img", "../2.2.1.img"))
                .singleElement()
                .asString()
                .contains("Expected a plain file name")
                .contains("saw \"../2.2.1.img\"");
        assertThat(complaints("size-bytes: 7864320", "size-bytes: 0"))
                .singleElement()
                .asString()
                .contains("its size must be positive, was 0");
        assertThat(complaints("b2710cf36e8e", "B2710CF36E8E"))
                .singleElement()
                .asString()
                .contains("expected a SHA-256 of 64 lower-case hex digits");
        assertThat(complaints("recommended: true", "recommended: yes"))
                .singleElement()
                .asString()
                .contains("Expected true or false for recommended, saw \"yes\"");
        assertThat(complaints("may-rest: true", "may-rist: true"))
                .singleElement()
                .asString()
                .contains("The key \"may-rist\" is not known here; did you mean \"may-rest\"?");
        assertThat(complaints("components:", "parts:"))
                .anyMatch(c -> c.contains("A family needs the component \"system\""))
                .anyMatch(c -> c.contains("\"parts\" is not known here"));
        assertThat(complaints("fields: 3", "fields: three"))
                .anyMatch(
                        c -> c.contains("Expected a number of fields such as \"3\" or \"2 to 4\""));
    }

    @Test
    void checksRulesAsAWhole() throws Exception {
        assertThat(complaints("id: osmer/store-26", "id: osmer/settings-28"))
                .singleElement()
                .asString()
                .contains("The rule \"osmer/settings-28\" is given twice");
        assertThat(complaints("from: '>= 2.6.3'", "from: '>= 2.6.3'\n    entitled: true"))
                .singleElement()
                .asString()
                .contains("A rule has one guard, this one has 2");
        assertThat(complaints("    entitled: true\n", ""))
                .singleElement()
                .asString()
                .contains("A rule needs a guard: one of from, needs, only-on, never-on, entitled");
        assertThat(complaints("from: '>= 2.6.3'", "from: '[2.8.2, 2.6.3)'"))
                .singleElement()
                .asString()
                .contains("its lower bound is above its upper bound");
        assertThat(
                        complaints(
                                "to: '>= 2.8.0'\n    from",
                                "component: bord\n    to: '>= 2.8.0'\n    from"))
                .anyMatch(c -> c.contains("The component \"bord\" is not described"));
    }

    private static String guide() throws Exception {
        String guide = Files.readString(Path.of("../docs/catalogue-guide.md"));
        return guide.substring(guide.indexOf("```yaml") + 8, guide.lastIndexOf("```"));
    }

    private static PathAnswer ask(String watch) throws Exception {
        Catalogue catalogue = CatalogueText.read("guide", guide());
        SortedMap<String, Version> state = new TreeMap<>();
        state.put("system", catalogue.systemScheme().parse("4.1"));
        state.put("watch", catalogue.schemes().get("watch").parse(watch));
        return PathSearch.answer(
                new Kind(
                        catalogue,
                        new Hardware("", "", "", ""),
                        true,
                        Preference.FEWEST_RESTARTS,
                        LocalDate.of(2026, 11, 2),
                        0),
                state,
                "system",
                catalogue.systemScheme().parse("5.0"));
    }

    @Test
    void theGuidesExampleGivesWhatTheGuideSays() throws Exception {
        assertThat(ask("3.2"))
                .isInstanceOfSatisfying(
                        PathAnswer.Found.class,
                        found -> {
                            assertThat(found.best().hops())
                                    .extracting(h -> h.image().fileName())
                                    .containsExactly("k1-4.4.img", "k1-5.0-from-4.4.img");
                            assertThat(found.best().hops().getFirst().why())
                                    .extracting(Object::toString)
                                    .containsExactly(
                                            "5.0 reads the clock settings of 4.4 and later"
                                                    + " (halvig/clock-50)");
                            assertThat(found.best().hops().getLast().brings())
                                    .containsExactly("lamp 7");
                        });
        assertThat(ask("3.1"))
                .isInstanceOfSatisfying(
                        PathAnswer.Refused.class,
                        refused -> {
                            assertThat(refused.obstacles())
                                    .extracting(o -> o.reason().rule())
                                    .containsExactly("halvig/watch-50");
                            assertThat(refused.highestReachable()).contains("4.4");
                        });
    }

    private static List<String> ofGuide(String from, String to) throws Exception {
        assertThat(guide()).contains(from);
        return catchThrowableOfType(
                        RejectedText.class,
                        () -> CatalogueText.read("g", guide().replace(from, to)))
                .complaints()
                .stream()
                .map(Complaint::toString)
                .toList();
    }

    @Test
    void findsWhatIsWrongOnlyAsAWhole() throws Exception {
        assertThat(
                        ofGuide(
                                "    to: 4.4\n    from: 5.0\n    opens-down: true",
                                "    to: 4.4\n    from: '>= 5.0'"))
                .singleElement()
                .asString()
                .contains(
                        "The release 4.4 of system can be reached from no older release: the rule"
                                + " halvig/back-to-44 leaves none");
        assertThat(
                        ofGuide(
                                "    to: 5.0\n    needs: { watch: '>= 3.2' }",
                                "    to: 5.0\n    from: '< 4.4'"))
                .singleElement()
                .asString()
                .contains("the rules halvig/clock-50 and halvig/watch-50 contradict each other");
        assertThat(ofGuide("delta-from: 4.4", "delta-from: 4.3"))
                .singleElement()
                .asString()
                .contains(
                        "k1-5.0-from-4.4.img is a delta from 4.3, which is not in this catalogue");
        assertThat(
                        ofGuide(
                                "sha256:"
                                    + " bbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbb"
                                    + " }",
                                "sha256:"
                                    + " bbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbb,"
                                    + " part: upper }\n"
                                    + "      - { file: x.img, size-bytes: 9, part: lower, for: {"
                                    + " revisions: [B] }, sha256:"
                                    + " dddddddddddddddddddddddddddddddddddddddddddddddddddddddddddddddd"
                                    + " }"))
                .hasSize(2)
                .allSatisfy(
                        c -> assertThat(c).contains("has no counterpart for the same hardware"));
        assertThat(
                        ofGuide(
                                "    to: '>= 5.0'\n    from: '>= 4.4'",
                                "    to: '(4.4, 5.0)'\n    from: '>= 4.4'"))
                .singleElement()
                .asString()
                .contains("The rule halvig/clock-50 speaks of no release of this catalogue");
        assertThat(ofGuide("needs: { watch: '>= 3.2' }", "never-on: { models: [] }"))
                .anyMatch(c -> c.contains("on which the rule halvig/watch-50 never allows 5.0"));
        assertThat(ofGuide("component: lamp, version: 7,", "component: watch, version: 3.2,"))
                .anyMatch(c -> c.contains("The component watch stands outside the device"));
        assertThat(ofGuide("severity: high", "severity: terrible"))
                .singleElement()
                .asString()
                .contains("Expected low, medium, high or critical, saw \"terrible\"");
    }

    @Test
    void refusesWhatIsNoYamlWithThePlace() {
        assertThat(
                        catchThrowableOfType(
                                RejectedText.class,
                                () -> CatalogueText.read("c.yaml", "catalogue: 1\nreleases: [\n")))
                .hasMessageContaining("c.yaml:3:1: This is not readable as YAML");
        assertThat(
                        catchThrowableOfType(
                                RejectedText.class, () -> CatalogueText.read("c.yaml", "- a\n")))
                .hasMessageContaining("at the top, saw a list");
        assertThat(catchThrowableOfType(RejectedText.class, () -> CatalogueText.read("c.yaml", "")))
                .hasMessageContaining("saw an empty text");
    }
}
