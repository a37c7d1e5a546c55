package calmstep.core.select;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class SelectionTest {
    private static final Shown ROUTER =
            Selection.shown(
                    Map.of(
                            Field.NAME,
                            List.of("rt-dunmere-1"),
                            Field.FAMILY,
                            List.of("osmer-r6", "Osmer R6"),
                            Field.SITE,
                            List.of("dunmere", "Dunmere"),
                            Field.TAG,
                            List.of("pilot", "quay side"),
                            Field.RUNS,
                            List.of("2.6.3"),
                            Field.WANTED,
                            List.of("2.8.2"),
                            Field.STANDING,
                            List.of("behind"),
                            Field.EXPOSED,
                            List.of("NF-26-04"),
                            Field.BRAND,
                            List.of("")));

    private static boolean holds(String text) {
        return Selection.parse(text).holds(ROUTER);
    }

    @Test
    void allTermsMustHoldAndAlternativesStandBehindCommas() {
        assertThat(holds("")).isTrue();
        assertThat(holds("family:osmer-r6 site:dunmere")).isTrue();
        assertThat(holds("site:eskholm,dunmere")).isTrue();
        assertThat(holds("site:eskholm")).isFalse();
        assertThat(holds("family:osmer-r6 site:eskholm")).isFalse();
        assertThat(holds("SITE:Dunmere")).as("capitals do not matter").isTrue();
    }

    @Test
    void aStarStandsForAnyRunOfLettersAndTheRestIsTakenAsItIs() {
        assertThat(holds("name:rt-*")).isTrue();
        assertThat(holds("name:rt-*-2")).isFalse();
        assertThat(holds("name:rt.dunmere.1")).as("a dot is a dot").isFalse();
        assertThat(holds("tag:\"quay side\"")).isTrue();
        assertThat(holds("brand:*")).as("an empty value is none").isFalse();
        assertThat(holds("exposed:*")).isTrue();
    }

    @Test
    void versionsAreComparedAsVersionsAndNotAsTexts() {
        assertThat(holds("runs:2.6.3")).isTrue();
        assertThat(holds("runs:<2.10")).as("2.6 is older than 2.10").isTrue();
        assertThat(holds("runs:>=2.6.3 wanted:>2.6.3")).isTrue();
        assertThat(holds("runs:>2.6.3")).isFalse();
        assertThat(holds("runs:2.4..2.6.3")).isTrue();
        assertThat(holds("runs:2.4..2.6.2")).isFalse();
        assertThat(holds("runs:2.6.*,9.9")).isTrue();
        assertThat(Selection.parse("runs:<9").holds(Selection.shown(Map.of())))
                .as("what nobody knows is in no range")
                .isFalse();
    }

    @Test
    void notTurnsATermRoundAndABareWordIsLookedForEverywhere() {
        assertThat(holds("not site:eskholm")).isTrue();
        assertThat(holds("not site:dunmere")).isFalse();
        assertThat(holds("dunm behind")).isTrue();
        assertThat(holds("\"quay side\" not spare")).isTrue();
        assertThat(holds("not quay")).isFalse();
    }

    @Test
    void whatIsNoSelectionIsRefusedWithItsColumn() {
        assertThatThrownBy(() -> Selection.parse("site:dunmere famly:osmer"))
                .hasMessage("Column 14: \"famly\" is no field; did you mean \"family\"?");
        assertThatThrownBy(() -> Selection.parse("site:"))
                .hasMessage("Column 6: expected a value behind \"site:\", such as site:*.");
        assertThatThrownBy(() -> Selection.parse("runs:new"))
                .hasMessageStartingWith("Column 6: Expected a version")
                .hasMessageContaining("2.4..2.8");
        assertThatThrownBy(() -> Selection.parse("a not"))
                .hasMessage("Column 6: expected a term behind \"not\", saw the end.");
        assertThatThrownBy(() -> Selection.parse("not not a")).hasMessageContaining("twice");
        assertThatThrownBy(() -> Selection.parse("tag:\"quay side"))
                .hasMessageContaining("quote is not closed");
    }
}
