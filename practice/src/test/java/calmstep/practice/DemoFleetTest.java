package calmstep.practice;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The fleet files of the demo, each played as it is, on addresses and ports of this test. */
class DemoFleetTest {
    private static final Path DEMO = Path.of("../demo");
    private static final Pattern NAME = Pattern.compile("(?m)^  - name: (\\S+)$");

    @TempDir private Path folder;

    private static List<Path> fleets() throws IOException {
        try (Stream<Path> files = Files.list(DEMO)) {
            return files.filter(
                            file ->
                                    file.getFileName().toString().matches("practice-.*\\.yaml")
                                            && !file.endsWith("practice-images.yaml"))
                    .sorted()
                    .toList();
        }
    }

    private static String said(String method, String path) throws Exception {
        HttpRequest request =
                HttpRequest.newBuilder(URI.create("http://127.0.0.1:18736" + path))
                        .method(method, HttpRequest.BodyPublishers.noBody())
                        .build();
        try (HttpClient client = HttpClient.newHttpClient()) {
            HttpResponse<String> answer =
                    client.send(request, HttpResponse.BodyHandlers.ofString());
            return answer.statusCode() + " " + answer.body();
        }
    }

    private static void isMisledByHand(PracticeFleet playing, String name) throws Exception {
        try (ByHand _ = ByHand.open(playing, Optional.empty(), 18736)) {
            assertThat(said("GET", "/")).startsWith("200 ").contains(name).contains("slow-link");
            assertThat(said("POST", "/%s/slow-link".formatted(name))).startsWith("200 ");
            assertThat(playing.machine(name).has(Fault.SLOW_LINK)).isTrue();
            assertThat(said("POST", "/%s/none".formatted(name))).startsWith("200 ");
            assertThat(playing.machine(name).has(Fault.SLOW_LINK)).isFalse();
            assertThat(said("POST", "/%s/melts".formatted(name)))
                    .startsWith("400 ")
                    .contains("slow-link");
            assertThat(said("POST", "/nobody/slow-link"))
                    .startsWith("400 ")
                    .contains("No machine nobody");
        }
    }

    @Test
    void everyMachineStartsFromItsOwnImages() throws Exception {
        Path images = Path.of("../build/test-images");
        PracticeFleet.writeImages(DEMO.resolve("practice-fleet.yaml"), images);
        PracticeFleet.writeImages(DEMO.resolve("practice-images.yaml"), images);
        List<String> played = new ArrayList<>();
        for (Path fleet : fleets()) {
            String text =
                    Files.readString(fleet)
                            .replace("127.40.", "127.78.")
                            .replace("-port: 2022", "-port: 18732")
                            .replace("-port: 2023", "-port: 18733")
                            .replace("-port: 2443", "-port: 18734")
                            .replace("port: 2061", "port: 18735");
            Path moved = Files.writeString(folder.resolve(fleet.getFileName()), text);
            Matcher names = NAME.matcher(text);
            try (PracticeFleet playing =
                    PracticeFleet.play(moved, images, folder.resolve("state"))) {
                if (fleet.endsWith("practice-fleet.yaml")) {
                    isMisledByHand(playing, "rt-eskholm-1");
                }
                while (names.find()) {
                    String name = names.group(1);
                    assertThat(playing.machine(name).power())
                            .as("%s: %s", name, playing.machine(name).bootMessages())
                            .isEqualTo(Machine.Power.RUNNING);
                    played.add(name);
                }
            }
        }
        assertThat(played)
                .as("all of Northmere's but one that does not answer, no one twice")
                .doesNotHaveDuplicates()
                .hasSizeGreaterThan(55);
    }
}
