package calmstep.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/** Northmere's whole fleet over its nights, from the demo's files alone. */
class NightsFromFilesTest {
    private static final Path DEMO = Path.of("../demo");

    @TempDir private Path folder;

    private Path plan(String... lines) throws IOException {
        return Files.writeString(
                folder.resolve("plan.yaml"),
                "plan: 1\nname: winter\nto: newest-general\n" + String.join("\n", lines) + "\n");
    }

    private static String everyDevice() throws IOException {
        return "devices: [%s]"
                .formatted(
                        String.join(
                                ", ",
                                Files.readAllLines(DEMO.resolve("northmere.yaml")).stream()
                                        .filter(l -> l.matches("  - name: .*"))
                                        .map(l -> l.substring("  - name: ".length()))
                                        .toList()));
    }

    private static List<Path> catalogues() throws IOException {
        try (Stream<Path> files = Files.list(DEMO.resolve("catalogue"))) {
            return files.sorted().toList();
        }
    }

    private static NightsFromFiles worked(Path plan) throws IOException {
        return NightsFromFiles.read(
                plan, DEMO.resolve("northmere.yaml"), DEMO.resolve("windows.yaml"), catalogues());
    }

    private static List<JsonNode> placed(NightsFromFiles worked) {
        return worked.nights()
                .path("nights")
                .valueStream()
                .flatMap(n -> n.path("units").valueStream())
                .toList();
    }

    @Test
    void keepToEachSitesOwnClockAndNameWhatGoesNowhere() throws IOException {
        NightsFromFiles worked = worked(plan(everyDevice()));
        assertThat(placed(worked))
                .hasSizeGreaterThan(50)
                .allSatisfy(
                        u -> {
                            LocalTime from =
                                    Instant.parse(u.path("begins").asString())
                                            .atZone(ZoneId.of(u.path("zone").asString()))
                                            .toLocalTime();
                            if (u.path("site").asString().equals("dunmere")
                                    || u.path("site").asString().equals("farrow-point")) {
                                assertThat(from)
                                        .as(u.path("unit").asString())
                                        .isBetween(LocalTime.of(1, 15), LocalTime.of(4, 30));
                            }
                        });
        assertThat(
                        worked.nights()
                                .path("nowhere")
                                .valueStream()
                                .map(n -> n.path("unit").asString()))
                .containsExactly("vg-eskholm");
        assertThat(worked.nights().path("nowhere").path(0).path("sentence").asString())
                .contains("longest window at eskholm is 25 min");
        assertThat(worked.left())
                .anyMatch(
                        l -> l.startsWith("gw-dunlin-1 cannot reach 3.6.0") && l.contains("brand"))
                .noneMatch(l -> l.contains("never read"));
    }

    @Test
    void neverHaveBothOfTwoThatBackEachOtherInWork() throws IOException {
        List<JsonNode> pair =
                placed(
                                worked(
                                        plan(
                                                "devices: [dc-ostrand-1, dc-ostrand-2,"
                                                        + " dc-kelling-1, dc-kelling-2]")))
                        .stream()
                        .filter(u -> u.path("unit").asString().startsWith("dc-ostrand"))
                        .toList();
        assertThat(pair).hasSize(2);
        JsonNode first = pair.getFirst();
        JsonNode second = pair.getLast();
        assertThat(Instant.parse(second.path("begins").asString()))
                .isAfterOrEqualTo(Instant.parse(first.path("ends").asString()));
    }

    @Test
    void keepWhatAPersonWished() throws IOException {
        LocalDate night = LocalDate.now(ZoneId.of("Europe/Lisbon")).plusDays(5);
        NightsFromFiles worked =
                worked(
                        plan(
                                "devices: [rt-dunmere-1, rt-millhaven-1]",
                                "nights: { rt-dunmere-1: %s }".formatted(night),
                                "excluded: [rt-millhaven-1]"));
        boolean frozen = !worked.nights().path("nowhere").isEmpty();
        assertThat(
                        frozen
                                ? List.of(night.toString())
                                : placed(worked).stream()
                                        .map(
                                                u ->
                                                        worked.nights()
                                                                .path("nights")
                                                                .path(0)
                                                                .path("night")
                                                                .asString())
                                        .distinct()
                                        .toList())
                .containsExactly(night.toString());
        assertThat(placed(worked))
                .noneMatch(u -> u.path("unit").asString().equals("rt-millhaven-1"));
    }

    @Test
    void sayWhatIsMissingOrWrong() throws IOException {
        Path plan = plan("devices: [rt-dunmere-1]");
        assertThatThrownBy(
                        () ->
                                NightsFromFiles.read(
                                        plan, DEMO.resolve("northmere.yaml"), null, catalogues()))
                .isInstanceOf(Problem.class)
                .hasMessageContaining("--windows FILE");
        Path wrong = plan("devices: [rt-dunmor-1]");
        assertThatThrownBy(() -> worked(wrong))
                .isInstanceOfSatisfying(
                        Problem.class,
                        problem ->
                                assertThat(problem.details())
                                        .singleElement()
                                        .asString()
                                        .contains("plan.yaml:4:")
                                        .contains("rt-dunmere-1"));
        Path now = plan("devices: [rt-dunmere-1]", "begins: now");
        assertThat(
                        placed(
                                NightsFromFiles.read(
                                        now, DEMO.resolve("northmere.yaml"), null, catalogues())))
                .isNotEmpty();
    }
}
