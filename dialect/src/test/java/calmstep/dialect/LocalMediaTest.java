package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A stick that somebody plugged into a router: looked at before the shelf, and proven like
 * everything else.
 */
@Tag("night")
class LocalMediaTest {
    private static final String ROUTER = "rt-aldwick-pier-1";

    @TempDir private Path folder;

    private UnitNight night() throws Exception {
        return new UnitNight(
                folder,
                "osmer-r6",
                "practice-osmer-r6.yaml",
                ROUTER,
                "2.6.3",
                Optional.of("stick"));
    }

    private static String notHeld(UnitNight night) {
        return "%s: stick does not hold %s as it was published; it comes from the shelf"
                .formatted(ROUTER, imageOf(night));
    }

    private static String imageOf(UnitNight night) {
        return night.plan.hops().getFirst().hop().image().fileName();
    }

    @Test
    void whatIsOnTheStickIsNotFetched() throws Exception {
        try (UnitNight night = night()) {
            Files.copy(
                    DemoFiles.image(imageOf(night)),
                    night.fleet.machine(ROUTER).flash().stick().resolve(imageOf(night)));
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.talk)
                    .anyMatch(
                            text ->
                                    text.startsWith(
                                            "typed do take " + imageOf(night) + " from stick"))
                    .noneMatch(text -> text.startsWith("typed do bring"));
        }
    }

    @Test
    void aDamagedFileOnTheStickGivesWayToTheShelf() throws Exception {
        try (UnitNight night = night()) {
            byte[] damaged = Files.readAllBytes(DemoFiles.image(imageOf(night)));
            damaged[damaged.length / 2] ^= 1;
            Files.write(
                    night.fleet.machine(ROUTER).flash().stick().resolve(imageOf(night)), damaged);
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.talk)
                    .anyMatch(text -> text.startsWith("typed do take"))
                    .anyMatch(text -> text.startsWith("typed do bring"));
            assertThat(night.story()).contains(notHeld(night));
        }
    }

    @Test
    void aStickThatIsNotThereIsNoTrouble() throws Exception {
        try (UnitNight night = night()) {
            assertThat(night.play()).as(night.story()).isEqualTo("settled");
            assertThat(night.talk)
                    .anyMatch(text -> text.contains("stick has no " + imageOf(night)))
                    .anyMatch(text -> text.startsWith("typed do bring"));
            assertThat(night.story()).as("whoever plugged it in is told").contains(notHeld(night));
        }
    }
}
