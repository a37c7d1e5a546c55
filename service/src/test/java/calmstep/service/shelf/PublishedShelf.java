package calmstep.service.shelf;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.step.Digests;
import calmstep.service.RunningService;
import calmstep.service.Settings;
import calmstep.service.releases.Catalogues;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.HttpURLConnection;
import java.net.Socket;
import java.net.SocketException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HexFormat;
import java.util.List;
import java.util.SplittableRandom;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.BeforeEach;

/** A shelf, a catalogue with images, and a device that they are for. */
abstract class PublishedShelf {
    final Shelf shelf = RunningService.bean(Shelf.class);
    final Path folder = RunningService.bean(Settings.class).data();
    final String family = RunningService.name("family");
    final String file = family + "-1.0.img";
    final byte[] image = new byte[200_000];

    @BeforeEach
    void publish() {
        new SplittableRandom(family.hashCode()).nextBytes(image);
        RunningService.bean(Catalogues.class)
                .take(
                        "c.yaml",
                        """
                        catalogue: 1
                        family: %s
                        issued: 2026-01-01
                        components: { system: { fields: 2 } }
                        releases:
                          - { version: 1.0, date: 2025-01-01, images: [{ file: %s, size-bytes: %s, sha256: %s }] }
                        """
                                .formatted(
                                        family,
                                        file,
                                        image.length,
                                        HexFormat.of()
                                                .formatHex(Digests.newSha256().digest(image))),
                        "test");
    }

    long filesInQuarantine() throws IOException {
        try (Stream<Path> files = Files.list(folder.resolve("quarantine"))) {
            return files.count();
        }
    }

    static int status(URI uri, String method) throws IOException {
        HttpURLConnection call = (HttpURLConnection) uri.toURL().openConnection();
        call.setRequestMethod(method);
        return call.getResponseCode();
    }

    static String said(Path into, String... command) throws Exception {
        Process process =
                new ProcessBuilder(command)
                        .redirectErrorStream(true)
                        .redirectOutput(into.toFile())
                        .start();
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).as(String.join(" ", command)).isTrue();
        return "%s %s".formatted(process.exitValue(), Files.readString(into));
    }

    long left() throws IOException {
        try (Stream<Path> folders = Files.list(folder.resolve("shelf-sftp"))) {
            return folders.count();
        }
    }

    record Entry(String name, byte[] bytes) {}

    /** Publishes an archive of these entries as the one that holds the image, and brings it. */
    void bringArchive(List<Entry> entries) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(bytes)) {
            for (Entry entry : entries) {
                zip.putNextEntry(new ZipEntry(entry.name()));
                zip.write(entry.bytes());
                zip.closeEntry();
            }
        }
        bringArchive(bytes.toByteArray());
    }

    void bringArchive(byte[] archive) {
        String name = family + "-1.1.zip";
        RunningService.bean(Catalogues.class)
                .take(
                        "c.yaml",
                        """
                        catalogue: 1
                        family: %s
                        issued: 2026-01-02
                        components: { system: { fields: 2 } }
                        releases:
                          - { version: 1.1, date: 2025-01-01, images: [{ file: %s, size-bytes: %s, sha256: %s, archive: { file: %s, size-bytes: %s, sha256: %s } }] }
                        """
                                .formatted(
                                        family,
                                        file,
                                        image.length,
                                        sha256(image),
                                        name,
                                        archive.length,
                                        sha256(archive)),
                        "test");
        shelf.takeIn(name, new ByteArrayInputStream(archive), "mara");
    }

    static String sha256(byte[] bytes) {
        return HexFormat.of().formatHex(Digests.newSha256().digest(bytes));
    }

    static String answer(URI uri, byte[] asked) throws IOException {
        try (Socket line = new Socket(uri.getHost(), uri.getPort())) {
            line.setSoTimeout(5_000);
            line.getOutputStream().write(asked);
            line.shutdownOutput();
            return new String(line.getInputStream().readAllBytes(), StandardCharsets.ISO_8859_1);
        } catch (SocketException closed) {
            return "";
        }
    }
}
