package calmstep.core.version;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.util.List;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class VersionTest {
    private static final VersionScheme LETTERS = new VersionScheme("", 2, 4, true, "build", true);
    private static final VersionScheme STRICT = new VersionScheme("v", 2, 4, false, "", false);

    @Provide
    Arbitrary<String> texts() {
        Arbitrary<String> numbers =
                Arbitraries.integers()
                        .between(0, 12)
                        .list()
                        .ofMinSize(2)
                        .ofMaxSize(4)
                        .map(n -> String.join(".", n.stream().map(String::valueOf).toList()));
        Arbitrary<String> letters = Arbitraries.of("", "a", "b", "z", "aa");
        Arbitrary<String> builds = Arbitraries.of("", " build 4", " build 418");
        return Combinators.combine(numbers, letters, builds).as((n, l, b) -> n + l + b);
    }

    @Property
    void comparisonIsATotalOrderThatAgreesWithEquality(
            @ForAll("texts") String a, @ForAll("texts") String b, @ForAll("texts") String c) {
        Version x = LETTERS.parse(a);
        Version y = LETTERS.parse(b);
        Version z = LETTERS.parse(c);
        assertThat(Integer.signum(x.compareTo(y))).isEqualTo(-Integer.signum(y.compareTo(x)));
        if (x.compareTo(y) <= 0 && y.compareTo(z) <= 0) {
            assertThat(x).isLessThanOrEqualTo(z);
        }
        assertThat(x.equals(y)).isEqualTo(x.compareTo(y) == 0);
        if (x.equals(y)) {
            assertThat(x).hasSameHashCodeAs(y);
        }
    }

    @Property
    void printingGivesBackWhatCameIn(@ForAll("texts") String text) {
        assertThat(LETTERS.parse(text)).hasToString(text);
    }

    @Test
    void ordersAsTheTradeDoes() {
        List<String> rising =
                List.of(
                        "5.4.2",
                        "5.4.3",
                        "5.4.3b",
                        "5.4.3c build 2",
                        "5.4.3c build 10",
                        "5.10",
                        "6.0.1");
        assertThat(rising.stream().map(LETTERS::parse)).isSorted().doesNotHaveDuplicates();
        assertThat(LETTERS.parse("5.2"))
                .isEqualTo(LETTERS.parse("5.2.0"))
                .isEqualTo(LETTERS.parse("5.02"));
        assertThat(STRICT.parse("v5.2")).isLessThan(STRICT.parse("v5.2.0"));
    }

    @Test
    void refusesWhatIsNotAVersionAndShowsOne() {
        for (String text :
                List.of(
                        "",
                        "two.6",
                        "2",
                        "2.6.3.1.9",
                        "2..6",
                        " 2.6",
                        "2.6 ",
                        "99999999999999999999.1")) {
            assertThatIllegalArgumentException().as(text).isThrownBy(() -> LETTERS.parse(text));
        }
        assertThatIllegalArgumentException()
                .isThrownBy(() -> STRICT.parse("2.6"))
                .withMessage("Expected a version such as \"v2.4.0\", saw \"2.6\".");
    }

    @Property
    void aRangeHoldsExactlyWhatIsBetweenItsBounds(
            @ForAll("texts") String a, @ForAll("texts") String b, @ForAll("texts") String x) {
        Version low = LETTERS.parse(a);
        Version high = LETTERS.parse(b);
        Version version = LETTERS.parse(x);
        if (low.compareTo(high) < 0) {
            boolean between = version.compareTo(low) >= 0 && version.compareTo(high) < 0;
            assertThat(VersionRange.parse("[%s, %s)".formatted(a, b), LETTERS).contains(version))
                    .isEqualTo(between);
            assertThat(
                            VersionRange.parse(">= %s and < %s".formatted(a, b), LETTERS)
                                    .contains(version))
                    .isEqualTo(between);
            assertThat(
                            VersionRange.parse("< %s or >= %s".formatted(a, b), LETTERS)
                                    .contains(version))
                    .isEqualTo(!between);
        } else if (low.compareTo(high) > 0) {
            assertThatIllegalArgumentException()
                    .isThrownBy(() -> VersionRange.parse("[%s, %s)".formatted(a, b), LETTERS))
                    .withMessageContaining("lower bound is above");
        }
    }

    /** What is joined by "and" holds all at once, however often it bounds the same side. */
    @Property
    void boundsThatAreJoinedHoldAllAtOnce(
            @ForAll("texts") String a,
            @ForAll("texts") String b,
            @ForAll("texts") String c,
            @ForAll("texts") String x,
            @ForAll @IntRange(max = 124) int signs) {
        List<String> words = List.of(">= ", "> ", "<= ", "< ", "= ");
        List<String> parts =
                List.of(
                        words.get(signs % 5) + a,
                        words.get(signs / 5 % 5) + b,
                        words.get(signs / 25) + c);
        Version version = LETTERS.parse(x);
        boolean inAll =
                parts.stream()
                        .allMatch(part -> VersionRange.parse(part, LETTERS).contains(version));
        try {
            VersionRange range = VersionRange.parse(String.join(" and ", parts), LETTERS);
            assertThat(range.contains(version)).as(range.text()).isEqualTo(inAll);
        } catch (IllegalArgumentException empty) {
            assertThat(empty).hasMessageContaining("lower bound is above");
            assertThat(inAll).as(parts.toString()).isFalse();
        }
    }

    @Test
    void aRangeThatHoldsNoVersionIsRefused() {
        VersionScheme plain = new VersionScheme("", 2, 2, false, "", false);
        for (String text : List.of("1.0 and 2.0", ">= 2.0 and < 2.0", "> 1.0 and = 1.0")) {
            assertThatIllegalArgumentException()
                    .isThrownBy(() -> VersionRange.parse(text, plain))
                    .withMessageContaining("No version can be in");
        }
        assertThat(VersionRange.parse(">= 2.0 and >= 1.0", plain).contains(plain.parse("1.0")))
                .isFalse();
    }
}
