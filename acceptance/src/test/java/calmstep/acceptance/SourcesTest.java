package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.practice.ForwardProxy;
import calmstep.practice.MakerService;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * Catalogues and images from a maker's service and from a signed bundle: cut lines, wrong bytes,
 * wrong keys. Nothing reaches the shelf unproven.
 */
@Order(10)
class SourcesTest {
    private static final int MAKER_PORT = 18178;
    private static final int PROXY_PORT = 18179;
    private static final String IMAGE = "osmer-r6c-2.6.3.img";

    private static House house;
    private MakerService maker;
    private ForwardProxy proxy;

    @BeforeAll
    static void build() throws Exception {
        house = House.ofTheDemo(8);
        house.importNorthmere();
        house.setStewardLogin();
        house.readAll();
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    @BeforeEach
    void aMaker() throws Exception {
        maker = MakerService.open("127.68.0.1", MAKER_PORT, pem(), Map.of("northmere", "ferry-1"));
        maker.publish(house.image(IMAGE)).publish(house.image("osmer-r6c-2.8.2.img"));
        proxy = ForwardProxy.open("127.68.0.2", PROXY_PORT, "out", "through-2");
        try (var connection = house.database()) {
            connection
                    .createStatement()
                    .execute(
                            "delete from shelf_image; delete from offer; delete from source; delete"
                                    + " from quarantined; delete from trusted_key");
        }
        set(Map.of());
    }

    @AfterEach
    void closed() throws Exception {
        maker.close();
        proxy.close();
    }

    private static Path pem() {
        return house.home().resolve("maker.pem");
    }

    private static House.Answer trySet(Map<String, String> more) throws Exception {
        Map<String, String> source =
                new HashMap<>(
                        Map.of(
                                "url",
                                "https://127.68.0.1:" + MAKER_PORT,
                                "user",
                                "northmere",
                                "password",
                                "ferry-1",
                                "certificate",
                                Files.readString(pem())));
        source.putAll(more);
        return house.call("PUT", "/api/sources/makers", source);
    }

    private static void set(Map<String, String> more) throws Exception {
        House.must(trySet(more));
    }

    private static House.Answer ask() {
        return house.call("POST", "/api/sources/makers/asked", Map.of());
    }

    private static JsonNode fetched(Object wanted) {
        long job =
                House.must(house.call("POST", "/api/fetches", wanted)).json().path("id").asLong();
        Await.until(
                Duration.ofSeconds(90),
                "the files are fetched",
                () -> !house.get("/api/jobs/" + job).path("state").asString().equals("under-way"));
        return house.get("/api/jobs/" + job);
    }

    private static List<String> onShelf() {
        return house.get("/api/shelf/images")
                .valueStream()
                .map(i -> i.path("fileName").asString())
                .toList();
    }

    @Test
    void tellsOnlyWhatIsNewSinceLastTime() throws Exception {
        assertThat(
                        ask().json()
                                .valueStream()
                                .map(
                                        o ->
                                                o.path("fileName").asString()
                                                        + " "
                                                        + o.path("standing").asString()))
                .containsExactly(IMAGE + " not-here", "osmer-r6c-2.8.2.img not-here");
        assertThat(ask().json()).isEmpty();
        maker.publish(House.TOP.resolve("demo/catalogue/tarnel-t2.yaml"));
        assertThat(
                        ask().json()
                                .valueStream()
                                .map(
                                        o ->
                                                o.path("family").asString()
                                                        + " "
                                                        + o.path("kind").asString()
                                                        + " "
                                                        + o.path("standing").asString()))
                .containsExactly("tarnel-t2 catalogue here");
        assertThat(house.get("/api/offers")).hasSize(3);
    }

    @Test
    void aNewCatalogueIsFetchedAndReadLikeAnImportedOne() throws Exception {
        Path newer =
                Files.writeString(
                        house.home().resolve("tarnel-t2.yaml"),
                        Files.readString(House.TOP.resolve("demo/catalogue/tarnel-t2.yaml"))
                                + "\n# one more line\n");
        Path broken =
                Files.writeString(
                        house.home().resolve("broken.yaml"), "catalogue: 1\nfamily: tarnel-t2\n");
        maker.publish(newer).publish(broken);
        ask();
        JsonNode job = fetched(Map.of("files", List.of("tarnel-t2.yaml", "broken.yaml")));
        assertThat(job.path("failed").asInt()).isEqualTo(1);
        assertThat(job.path("troubles").toString())
                .contains("The catalogue broken.yaml was refused: broken.yaml:");
        assertThat(
                        house.ask(
                                "select file_name from catalogue where family = 'tarnel-t2' order"
                                        + " by id desc limit 1"))
                .isEqualTo("tarnel-t2.yaml");
    }

    @Test
    void aPlanGetsItsMissingImagesInOneGoAndACutDownloadGoesOn() throws Exception {
        ask();
        House.must(
                house.call(
                        "POST",
                        "/api/plans",
                        Map.of(
                                "name",
                                "fetching",
                                "devices",
                                List.of("rt-dunmere-1"),
                                "target",
                                "2.8.2")));
        maker.cutNext(IMAGE, 40);
        JsonNode job = fetched(Map.of("files", List.of(), "plan", "fetching"));
        assertThat(job.path("failed").asInt()).isZero();
        assertThat(onShelf()).containsExactly(IMAGE, "osmer-r6c-2.8.2.img");
        assertThat(maker.asked().getFirst()).isEqualTo(IMAGE + " from 0");
        assertThat(maker.asked().get(1))
                .as("the second stretch begins where the first ended")
                .matches(IMAGE + " from [1-9]\\d{5,}");
        assertThat(
                        house.call(
                                        "POST",
                                        "/api/fetches",
                                        Map.of("files", List.of(), "plan", "fetching"))
                                .detail())
                .contains("Nothing is missing");
    }

    @Test
    void whatCameBeforeOurOwnDeathIsGoneOnFrom() throws Exception {
        ask();
        String sha = house.ask("select sha256 from offer where file_name = '%s'".formatted(IMAGE));
        Files.write(
                house.home().resolve("data/fetching").resolve(sha + ".part"),
                Arrays.copyOf(Files.readAllBytes(house.image(IMAGE)), 5_000_000));
        assertThat(fetched(Map.of("files", List.of(IMAGE))).path("failed").asInt()).isZero();
        assertThat(maker.asked()).containsExactly(IMAGE + " from 5000000");
    }

    @Test
    void wrongBytesEndInQuarantineAndNotOnTheShelf() {
        ask();
        maker.damage(IMAGE);
        JsonNode job = fetched(Map.of("files", List.of(IMAGE)));
        assertThat(job.path("troubles").toString())
                .contains("is not the published file")
                .contains("in quarantine");
        assertThat(onShelf()).isEmpty();
        assertThat(house.get("/api/shelf/quarantine")).hasSize(1);
    }

    /** Names and digests of a feed become names of our own files. */
    @Test
    void aFeedWithANameThatIsNotPlainlyOneIsNotBelieved() throws Exception {
        maker.publish(Files.write(house.home().resolve("..odd name.img"), new byte[] {1}));
        assertThat(ask().detail()).contains("Expected a list of what was published");
        assertThat(house.get("/api/offers")).isEmpty();
    }

    @Test
    void signsInAgainWhenTheSourceHasForgottenUs() {
        ask();
        maker.expireTokens();
        assertThat(fetched(Map.of("files", List.of(IMAGE))).path("failed").asInt()).isZero();
    }

    @Test
    void saysWhatIsWrongWithTheLine() throws Exception {
        set(Map.of("password", "ferry-2"));
        assertThat(ask().detail()).contains("refuses the user \"northmere\"");
        set(Map.of("certificate", ""));
        assertThat(ask().detail())
                .contains("certificate that is not trusted here")
                .contains("Nothing was sent");
        assertThat(
                        trySet(
                                        Map.of(
                                                "certificate",
                                                "no certificate",
                                                "url",
                                                "http://plain.example",
                                                "proxy",
                                                "nowhere"))
                                .details())
                .contains("Expected a certificate as PEM")
                .contains("https://releases.example")
                .contains("host:port");
        set(
                Map.of(
                        "proxy",
                        "127.68.0.2:" + PROXY_PORT,
                        "proxyUser",
                        "out",
                        "proxyPassword",
                        "wrong"));
        assertThat(ask().detail())
                .contains("The proxy 127.68.0.2:%s refuses the user \"out\"".formatted(PROXY_PORT));
        assertThat(proxy.tunnels()).isEmpty();
        set(
                Map.of(
                        "proxy",
                        "127.68.0.2:" + PROXY_PORT,
                        "proxyUser",
                        "out",
                        "proxyPassword",
                        "through-2"));
        assertThat(ask().json()).hasSize(2);
        assertThat(proxy.tunnels()).isNotEmpty().allMatch(("127.68.0.1:" + MAKER_PORT)::equals);
        maker.close();
        assertThat(ask().detail()).contains("does not answer");
        assertThat(
                        house.ask(
                                "select count(*) from source where position('ferry'::bytea in"
                                        + " secret) > 0"))
                .as("passwords lie sealed")
                .isEqualTo("0");
    }

    // bundles

    private static Path bundle() throws Exception {
        House.must(house.call("PUT", "/api/shelf/images/" + IMAGE, house.image(IMAGE)));
        Path file = house.home().resolve("made.bundle");
        Files.deleteIfExists(file);
        house.client(house.adminPassword(), "sign-in", "--name", "admin", "--password-stdin");
        House.Said said = house.client("", "shelf", "bundle", IMAGE, "--to", file.toString());
        assertThat(said.exitCode()).as(said.err()).isZero();
        return file;
    }

    private static void trustOurselves() {
        House.must(
                house.call(
                        "PUT",
                        "/api/trusted-keys/ourselves",
                        Map.of(
                                "publicKey",
                                house.get("/api/bundle-key").path("publicKey").asString())));
    }

    private static House.Answer take(Path bundle) {
        return house.call("PUT", "/api/bundles/made.bundle", bundle);
    }

    private static Path altered(Path bundle, String entry, byte[] with) throws Exception {
        Path file = house.home().resolve("altered.bundle");
        try (ZipFile zip = new ZipFile(bundle.toFile());
                OutputStream out = Files.newOutputStream(file);
                ZipOutputStream other = new ZipOutputStream(out)) {
            for (ZipEntry e : zip.stream().toList()) {
                other.putNextEntry(new ZipEntry(e.getName()));
                try (InputStream in = zip.getInputStream(e)) {
                    other.write(e.getName().equals(entry) ? with : in.readAllBytes());
                }
            }
            if (zip.getEntry(entry) == null) {
                other.putNextEntry(new ZipEntry(entry));
                other.write(with);
            }
        }
        return file;
    }

    @Test
    void aBundleIsTakenOnlyWhenATrustedKeySignedIt() throws Exception {
        Path bundle = bundle();
        assertThat(take(bundle).detail())
                .contains("not signed by a key that is trusted here")
                .contains("none is trusted yet");
        trustOurselves();
        JsonNode taken = House.must(take(bundle)).json();
        assertThat(taken.path("images").toString()).isEqualTo("[\"%s\"]".formatted(IMAGE));
        assertThat(taken.path("catalogues")).as("the same catalogue is here already").isEmpty();
    }

    @Test
    void nothingIsTakenFromABundleThatIsNotAsItWasMade() throws Exception {
        Path bundle = bundle();
        trustOurselves();
        try (var connection = house.database()) {
            connection.createStatement().execute("delete from shelf_image");
        }
        byte[] flipped = Files.readAllBytes(house.image(IMAGE));
        flipped[1_000_000] ^= 1;
        assertThat(take(altered(bundle, "images/" + IMAGE, flipped)).details())
                .contains(IMAGE + ": expected SHA-256");
        assertThat(take(altered(bundle, "images/" + IMAGE, new byte[10])).details())
                .contains("bytes, saw 10");
        assertThat(take(altered(bundle, "images/../../more.img", new byte[10])).details())
                .contains("is in it, but not in its list");
        String contents;
        try (ZipFile zip = new ZipFile(bundle.toFile());
                InputStream in = zip.getInputStream(zip.getEntry("contents.json"))) {
            contents = new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
        assertThat(
                        take(altered(
                                        bundle,
                                        "contents.json",
                                        contents.replace("admin", "other")
                                                .getBytes(StandardCharsets.UTF_8)))
                                .detail())
                .contains("not signed by a key");
        assertThat(take(house.image(IMAGE)).detail()).contains("not readable as a bundle");
        assertThat(onShelf()).isEmpty();
    }
}
