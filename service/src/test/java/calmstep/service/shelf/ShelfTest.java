package calmstep.service.shelf;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.check.Await;
import calmstep.service.RunningService;
import calmstep.service.Settings;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.SplittableRandom;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ShelfTest extends PublishedShelf {
    @Test
    void aDeviceIsToldTheAddressThatTheRouteToItLeavesBy() {
        assertThat(Told.to("192.0.2.9", "127.0.0.5"))
                .as("what was configured")
                .isEqualTo("192.0.2.9");
        assertThat(Told.to("0.0.0.0", "127.0.0.5")).isEqualTo("127.0.0.1");
        assertThat(Told.to("::", "::1")).isEqualTo("[0:0:0:0:0:0:0:1]");
    }

    @Test
    void thePublishedFileIsTakenInAndServedToTheDeviceThatItWasOpenedFor() throws Exception {
        assertThat(shelf.takeIn(file, new ByteArrayInputStream(image), "mara"))
                .singleElement()
                .satisfies(taken -> assertThat(taken.release()).isEqualTo("1.0"));
        assertThat(shelf.has(file)).isTrue();
        assertThat(shelf.servable(file, "127.0.0.1")).as("before a transfer is opened").isEmpty();
        URI uri = shelf.open(file, "127.0.0.1");
        assertThat(shelf.servable(file, "127.0.0.2")).as("for another device").isEmpty();
        try (InputStream served = uri.toURL().openStream()) {
            assertThat(served.readAllBytes()).isEqualTo(image);
        }
        assertThat(status(uri, "HEAD")).isEqualTo(200);
        assertThat(status(uri, "PUT")).isEqualTo(405);
        assertThat(status(uri.resolve("/" + family + "-2.0.img"), "GET")).isEqualTo(404);
    }

    /** With a client that we did not write: whole, in stretches, and the rest after a cut. */
    @Test
    void servesStretchesToCurl(@TempDir Path here) throws Exception {
        shelf.takeIn(file, new ByteArrayInputStream(image), "mara");
        String uri = shelf.open(file, "127.0.0.1").toString();
        Path log = here.resolve("log");
        assertThat(
                        said(
                                log,
                                "curl",
                                "-sS",
                                "-r",
                                "1000-1999",
                                "-o",
                                here.resolve("middle").toString(),
                                "-w",
                                "%{http_code} %header{content-range}",
                                uri))
                .isEqualTo("0 206 bytes 1000-1999/200000");
        assertThat(Files.readAllBytes(here.resolve("middle")))
                .isEqualTo(Arrays.copyOfRange(image, 1000, 2000));
        said(log, "curl", "-sS", "-r", "-77", "-o", here.resolve("end").toString(), uri);
        assertThat(Files.readAllBytes(here.resolve("end")))
                .isEqualTo(Arrays.copyOfRange(image, image.length - 77, image.length));
        Files.write(here.resolve("cut"), Arrays.copyOf(image, 123_456));
        assertThat(said(log, "curl", "-sS", "-C", "-", "-o", here.resolve("cut").toString(), uri))
                .startsWith("0 ");
        assertThat(Files.readAllBytes(here.resolve("cut"))).isEqualTo(image);
        assertThat(
                        said(
                                log,
                                "curl",
                                "-sS",
                                "-r",
                                "200000-",
                                "-o",
                                "/dev/null",
                                "-w",
                                "%{http_code} %header{content-range}",
                                uri))
                .isEqualTo("0 416 bytes */200000");
        said(log, "curl", "-sS", "-r", "0-10,20-30", "-o", here.resolve("whole").toString(), uri);
        assertThat(Files.readAllBytes(here.resolve("whole")))
                .as("several stretches at once get the whole file")
                .isEqualTo(image);
    }

    /** TFTP, with clients that we did not write: options, block sizes at their ends, windows. */
    @Test
    void servesOverTftpToOthersClients(@TempDir Path here) throws Exception {
        shelf.takeIn(file, new ByteArrayInputStream(image), "mara");
        shelf.open(file, "127.0.0.1");
        int port = RunningService.bean(Settings.class).shelf().tftpPort();
        Path log = here.resolve("log");
        for (String blockSize : List.of("8", "512", "1000", "1428", "65464")) {
            Path to = here.resolve("by-" + blockSize);
            assertThat(
                            said(
                                    log,
                                    "curl",
                                    "-sS",
                                    "--tftp-blksize",
                                    blockSize,
                                    "-o",
                                    to.toString(),
                                    "tftp://127.0.0.1:%s/%s".formatted(port, file)))
                    .as(blockSize)
                    .startsWith("0 ");
            assertThat(Files.readAllBytes(to)).as(blockSize).isEqualTo(image);
        }
        for (String window : List.of("1", "4", "16", "64")) {
            Path to = here.resolve("window-" + window);
            assertThat(
                            said(
                                    log,
                                    "atftp",
                                    "--option",
                                    "windowsize " + window,
                                    "--option",
                                    "blksize 1024",
                                    "-g",
                                    "-r",
                                    file,
                                    "-l",
                                    to.toString(),
                                    "127.0.0.1",
                                    String.valueOf(port)))
                    .as(window)
                    .startsWith("0 ");
            assertThat(Files.readAllBytes(to)).as("windows of " + window).isEqualTo(image);
        }
        assertThat(
                        said(
                                log,
                                "curl",
                                "-sS",
                                "-o",
                                "/dev/null",
                                "tftp://127.0.0.1:%s/%s".formatted(port, "not-" + file)))
                .doesNotStartWith("0 ");
    }

    /**
     * OpenSSH's own client and curl: what was opened is read, nothing is written, and nobody
     * without a transfer is let in.
     */
    @Test
    void servesOverSftpForReadingOnly(@TempDir Path here) throws Exception {
        shelf.takeIn(file, new ByteArrayInputStream(image), "mara");
        Path log = here.resolve("log");
        String port = String.valueOf(RunningService.bean(Settings.class).shelf().sftpPort());
        String uri = "sftp://127.0.0.1:%s/%s".formatted(port, file);
        RunningService.sql().update("update transfer set until = now() - interval '1 second'");
        assertThat(byCurl(log, here.resolve("early"), uri))
                .as("nothing was opened yet")
                .doesNotStartWith("0 ");
        shelf.open(file, "127.0.0.1");
        assertThat(byCurl(log, here.resolve("by-curl"), uri)).startsWith("0 ");
        assertThat(Files.readAllBytes(here.resolve("by-curl"))).isEqualTo(image);

        byOpenSsh(port, here, log);
        assertThat(Files.readAllBytes(here.resolve("by-openssh"))).isEqualTo(image);
        assertThat(Files.readString(log).lines().filter(line -> line.contains("denied")))
                .as("each of six orders")
                .hasSize(6);
        assertThat(Files.readString(log)).contains("ls -1\n%s\nsftp> get".formatted(file));
        assertThat(Files.readAllBytes(shelf.fileOf(file))).as("as it was proven").isEqualTo(image);
        Await.until(
                Duration.ofSeconds(30), "what a session saw is gone with it", () -> left() == 0);
        assertThat(left()).as("what a session saw is gone with it").isZero();
    }

    private static String byCurl(Path log, Path to, String uri) throws Exception {
        return said(log, "curl", "-sS", "-k", "-u", "any:any", "-o", to.toString(), uri);
    }

    /** It gets the file, and tries whatever else its client knows. */
    private void byOpenSsh(String port, Path here, Path log) throws Exception {
        Path word = Files.writeString(here.resolve("word"), "#!/bin/sh\necho any\n");
        assertThat(word.toFile().setExecutable(true)).isTrue();
        Path mine = Files.writeString(here.resolve("mine"), "mine");
        Path orders =
                Files.writeString(
                        here.resolve("orders"),
                        "-put %1$s %2$s\n-put %1$s another\n-rm %2$s\n-rename %2$s moved\n-mkdir folder\n-chmod 777 %2$s\nls -1\nget %2$s %3$s\n"
                                .formatted(mine, file, here.resolve("by-openssh")));
        ProcessBuilder client =
                new ProcessBuilder(
                        "setsid",
                        "sftp",
                        "-P",
                        port,
                        "-o",
                        "StrictHostKeyChecking=no",
                        "-o",
                        "UserKnownHostsFile=/dev/null",
                        "-o",
                        "PreferredAuthentications=password",
                        "-o",
                        "BatchMode=no",
                        "-b",
                        orders.toString(),
                        "any@127.0.0.1");
        client.environment()
                .putAll(
                        java.util.Map.of(
                                "SSH_ASKPASS",
                                word.toString(),
                                "SSH_ASKPASS_REQUIRE",
                                "force",
                                "DISPLAY",
                                ":0"));
        Process process = client.redirectErrorStream(true).redirectOutput(log.toFile()).start();
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue()).as(Files.readString(log)).isZero();
    }

    @Test
    void aTransferEndsWithItsTime() {
        shelf.takeIn(file, new ByteArrayInputStream(image), "mara");
        shelf.open(file, "127.0.0.1");
        RunningService.sql()
                .update(
                        "update transfer set until = now() - interval '1 second' where file_name ="
                                + " ?",
                        file);
        assertThat(shelf.servable(file, "127.0.0.1")).isEmpty();
    }

    @Test
    void oneFlippedByteIsRefusedNamedAndKeptApart() throws Exception {
        long before = filesInQuarantine();
        image[77_777] ^= 1;
        assertThatThrownBy(() -> shelf.takeIn(file, new ByteArrayInputStream(image), "mara"))
                .hasMessageContaining("SHA-256")
                .hasMessageContaining("quarantine");
        assertThat(shelf.has(file)).isFalse();
        assertThat(filesInQuarantine()).isEqualTo(before + 1);
        assertThat(shelf.quarantined())
                .filteredOn(q -> q.fileName().equals(file))
                .singleElement()
                .satisfies(q -> assertThat(q.broughtBy()).isEqualTo("mara"));
    }

    @Test
    void aShorterFileIsNamedByItsSizeAndALongerOneIsNotReadToItsEnd() {
        assertThatThrownBy(
                        () -> shelf.takeIn(file, new ByteArrayInputStream(image, 0, 1_000), "mara"))
                .hasMessageContaining("200,000 bytes")
                .hasMessageContaining("1,000 bytes");
        long[] read = {0};
        InputStream endless =
                new InputStream() {
                    @Override
                    public int read() {
                        read[0]++;
                        return 7;
                    }

                    @Override
                    public int read(byte[] into, int from, int most) {
                        read[0] += most;
                        Arrays.fill(into, from, from + most, (byte) 7);
                        return most;
                    }
                };
        assertThatThrownBy(() -> shelf.takeIn(file, endless, "mara"))
                .hasMessageContaining("more than 200,000 bytes");
        assertThat(read[0]).isLessThan(400_000);
    }

    @Test
    void aLineThatBreaksInTheMiddleLeavesNothingBehind() throws Exception {
        long before = filesInQuarantine();
        InputStream breaks =
                new SequenceInputStream(
                        new ByteArrayInputStream(image, 0, 100_000),
                        new InputStream() {
                            @Override
                            public int read() throws IOException {
                                throw new IOException("the line broke");
                            }

                            @Override
                            public int read(byte[] into, int from, int most) throws IOException {
                                throw new IOException("the line broke");
                            }
                        });
        assertThatThrownBy(() -> shelf.takeIn(file, breaks, "mara"))
                .hasMessageContaining("did not arrive whole")
                .hasMessageContaining("the line broke");
        assertThat(filesInQuarantine()).isEqualTo(before);
        assertThat(shelf.has(file)).isFalse();
        assertThat(shelf.takeIn(file, new ByteArrayInputStream(image), "mara"))
                .singleElement()
                .satisfies(taken -> assertThat(taken.sizeBytes()).isEqualTo(image.length));
    }

    @Test
    void namesThatNoCatalogueHasAreRefusedBeforeAByteIsKept() throws Exception {
        long before = filesInQuarantine();
        for (String name :
                new String[] {
                    "../" + file,
                    "x/" + file,
                    file + "\0",
                    file.toUpperCase(java.util.Locale.ROOT),
                    "",
                    ".",
                    "/etc/passwd"
                }) {
            assertThatThrownBy(() -> shelf.takeIn(name, new ByteArrayInputStream(image), "mara"))
                    .as(name)
                    .hasMessageContaining("No catalogue publishes");
        }
        assertThat(filesInQuarantine()).isEqualTo(before);
    }

    @Test
    void anImageThatShrankOnOurDiskIsNoLongerServed() throws Exception {
        shelf.takeIn(file, new ByteArrayInputStream(image), "mara");
        shelf.open(file, "127.0.0.1");
        Files.write(folder.resolve("shelf").resolve(file), new byte[10]);
        assertThat(shelf.servable(file, "127.0.0.1")).isEmpty();
    }

    @Test
    void noiseOnTheHttpLineEndsAndDisturbsNothing() throws IOException {
        shelf.takeIn(file, new ByteArrayInputStream(image), "test");
        URI uri = shelf.open(file, "127.0.0.1");
        SplittableRandom random = new SplittableRandom(47);
        for (int round = 0; round < 60; round++) {
            byte[] noise = new byte[random.nextInt(1, 4_000)];
            random.nextBytes(noise);
            assertThat(answer(uri, noise)).as("round %s", round).doesNotContain(" 200 ");
        }
        assertThat(
                        answer(
                                uri,
                                "GET /%zz HTTP/1.1\r\nHost: shelf\r\n\r\n"
                                        .getBytes(StandardCharsets.US_ASCII)))
                .startsWith("HTTP/1.1 400 ");
        String twice =
                "GET /%s HTTP/1.1\r\nHost: shelf\r\n\r\nHEAD /%s HTTP/1.1\r\nHost: shelf\r\nConnection: close\r\n\r\n"
                        .formatted(file, file);
        assertThat(
                        answer(uri, twice.getBytes(StandardCharsets.US_ASCII))
                                .split("HTTP/1.1 200 OK", -1))
                .as("both are answered on one line, in their order")
                .hasSize(3);
    }
}
