package calmstep.core.evidence;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.core.evidence.EventChain.Link;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;

class EvidenceTest {
    private static List<Link> chain(List<String> texts) {
        List<Link> chain = new ArrayList<>();
        for (String text : texts) {
            Instant at = Instant.EPOCH.plusSeconds(chain.size());
            String previous = chain.isEmpty() ? "" : chain.getLast().hash();
            chain.add(
                    new Link(
                            "7",
                            "rt-1",
                            "step",
                            at,
                            "ines",
                            text,
                            EventChain.hash(previous, "7", "rt-1", "step", at, "ines", text)));
        }
        return chain;
    }

    /**
     * Whatever somebody does to one event: altered, dropped, put in twice, or moved to another
     * moment.
     */
    @Property(tries = 300)
    void aChainTellsWhereItWasAltered(
            @ForAll @Size(min = 3, max = 12) List<String> texts,
            @ForAll @IntRange(min = 0, max = 11) int place,
            @ForAll @IntRange(min = 0, max = 3) int how) {
        List<Link> chain = chain(texts);
        assertThat(EventChain.brokenAt(chain)).isEmpty();
        int at = place % (chain.size() - 1);
        Link link = chain.get(at);
        switch (how) {
            case 0 ->
                    chain.set(
                            at,
                            new Link(
                                    link.run(),
                                    link.subject(),
                                    link.kind(),
                                    link.at(),
                                    link.who(),
                                    link.text() + ".",
                                    link.hash()));
            case 1 -> chain.remove(at);
            case 2 -> chain.add(at, link);
            default ->
                    chain.set(
                            at,
                            new Link(
                                    link.run(),
                                    link.subject(),
                                    link.kind(),
                                    link.at().plusNanos(1),
                                    link.who(),
                                    link.text(),
                                    link.hash()));
        }
        assertThat(EventChain.brokenAt(chain))
                .hasValueSatisfying(broken -> assertThat(broken).isBetween(at + 1, at + 2));
    }

    @Test
    void aManifestTellsWhatIsAlteredMissingAndStrange() {
        Manifest manifest =
                new Manifest(Map.of("a.txt", "a".repeat(64), "b c.txt", "b".repeat(64)));
        assertThat(Manifest.parse(manifest.toString())).isEqualTo(manifest);
        assertThat(manifest.problems(manifest.sha256())).isEmpty();
        assertThat(manifest.problems(Map.of("b c.txt", "c".repeat(64), "d.txt", "d".repeat(64))))
                .hasSize(3)
                .anyMatch(problem -> problem.startsWith("a.txt is missing"))
                .anyMatch(problem -> problem.startsWith("b c.txt was altered"))
                .anyMatch(problem -> problem.startsWith("d.txt does not belong"));
        assertThatThrownBy(() -> Manifest.parse("no digest"))
                .hasMessageContaining("saw \"no digest\"");
    }
}
