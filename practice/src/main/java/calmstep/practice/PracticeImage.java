package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.Collections;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.TreeMap;

/**
 * An image for stand-ins: a header of text lines, padded to {@value #HEADER_BYTES} bytes, and a
 * payload of bytes that follow from the header alone, so that the same description always gives the
 * same file.
 *
 * @param variant what else tells it from its sisters: a region, a feature set, a part; may be empty
 * @param rules what a machine heeds when it starts the image
 * @param takesSettingsFrom the oldest release whose settings this one can read; a machine with
 *     older settings does not start it
 */
record PracticeImage(
        String fileName,
        String family,
        String component,
        String version,
        List<String> revisions,
        String takesSettingsFrom,
        int sizeBytes,
        String variant,
        Rules rules) {
    static final Remembered<Checked> CHECKED = new Remembered<>(PracticeImage::weigh);

    /**
     * What a machine heeds beyond its settings.
     *
     * @param needsLoader the oldest loader that can start the image; empty where any can
     * @param besideFrom the oldest release that may run beside this one in a stack; empty where it
     *     must be the same one
     * @param needs by kind of board: the oldest release that it speaks with; older ones stay silent
     * @param drops models of access points that it does not speak with
     * @param wipes whether its first start over an older release leaves no settings
     * @param rewrites what its first start over an older release writes another way in the
     *     settings, as "old => new"; empty for nothing
     * @param boards board firmware that it holds: handed to the board at its first start, and taken
     *     over at the start behind that; empty for none
     */
    record Rules(
            String needsLoader,
            String besideFrom,
            Map<String, String> needs,
            List<String> drops,
            boolean wipes,
            String rewrites,
            String boards) {
        static final Rules NONE = new Rules("", "");

        /**
         * Of an image that nobody of ours made: nothing is known of what it heeds, so nothing keeps
         * it.
         */
        static final Rules UNKNOWN = new Rules("", "0");

        private static final String BECOMES = " => ";

        Rules {
            needs = Collections.unmodifiableMap(new TreeMap<>(needs));
            drops = List.copyOf(drops);
        }

        Rules(String needsLoader, String besideFrom) {
            this(needsLoader, besideFrom, Map.of(), List.of(), false, "", "");
        }

        /** The same, with firmware for the board. */
        Rules holding(String boardFirmware) {
            return new Rules(needsLoader, besideFrom, needs, drops, wipes, rewrites, boardFirmware);
        }

        /** What becomes of settings at its first start over an older release. */
        List<String> converted(List<String> settings) {
            if (wipes) {
                return List.of();
            }
            int cut = rewrites.indexOf(BECOMES);
            return cut < 0
                    ? settings
                    : settings.stream()
                            .map(
                                    line ->
                                            line.replace(
                                                    rewrites.substring(0, cut),
                                                    rewrites.substring(cut + BECOMES.length())))
                            .toList();
        }

        private static Rules of(Map<String, String> header) {
            Map<String, String> needs = needsBoards(header);
            return new Rules(
                    header.getOrDefault("needs-loader", ""),
                    header.getOrDefault("beside-from", ""),
                    needs,
                    header.containsKey("drops")
                            ? List.of(header.get("drops").split(" "))
                            : List.of(),
                    header.containsKey("wipes"),
                    header.getOrDefault("rewrites", ""),
                    header.getOrDefault("holds-board-firmware", ""));
        }

        private static Map<String, String> needsBoards(Map<String, String> header) {
            Map<String, String> needs = new TreeMap<>();
            header.forEach(
                    (key, value) -> {
                        if (key.startsWith("needs-board ")) {
                            needs.put(key.substring("needs-board ".length()), value);
                        }
                    });
            return needs;
        }

        private String lines() {
            StringBuilder lines =
                    new StringBuilder(
                            line("needs-loader", needsLoader) + line("beside-from", besideFrom));
            needs.forEach((kind, oldest) -> lines.append(line("needs-board " + kind, oldest)));
            return lines
                    + line("drops", String.join(" ", drops))
                    + line("wipes", wipes ? "settings" : "")
                    + line("rewrites", rewrites)
                    + line("holds-board-firmware", boards);
        }
    }

    static final int HEADER_BYTES = 512;
    private static final String MAGIC = "practice image 1";

    PracticeImage(
            String fileName,
            String family,
            String component,
            String version,
            List<String> revisions,
            String takesSettingsFrom,
            int sizeBytes) {
        this(
                fileName,
                family,
                component,
                version,
                revisions,
                takesSettingsFrom,
                sizeBytes,
                "",
                Rules.NONE);
    }

    void write(Path folder) {
        byte[] payload = payload();
        String header =
                """
                %s
                family: %s
                component: %s
                version: %s
                revisions: %s
                takes-settings-from: %s
                %s%spayload-sha256: %s
                """
                        .formatted(
                                MAGIC,
                                family,
                                component,
                                version,
                                String.join(" ", revisions),
                                takesSettingsFrom,
                                line("variant", variant),
                                rules.lines(),
                                sha256(payload));
        try (OutputStream out = Files.newOutputStream(folder.resolve(fileName))) {
            out.write(Arrays.copyOf(header.getBytes(StandardCharsets.US_ASCII), HEADER_BYTES));
            out.write(payload);
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    /** Whether the folder has this very image. */
    boolean isIn(Path folder) {
        return check(folder.resolve(fileName)).image().filter(this::equals).isPresent();
    }

    private static String line(String key, String value) {
        return value.isEmpty() ? "" : key + ": " + value + "\n";
    }

    private byte[] payload() {
        byte[] payload = new byte[sizeBytes - HEADER_BYTES];
        SplittableRandom random =
                new SplittableRandom(
                        (family + component + version + revisions + variant).hashCode());
        random.nextBytes(payload);
        return payload;
    }

    /** The header of a stored file whose payload matches it; else why the file is no image. */
    static Checked check(Path file) {
        return CHECKED.of(file);
    }

    /** The same, from its bytes in any case. */
    static Checked weigh(Path file) {
        try (InputStream in = Files.newInputStream(file)) {
            byte[] head = in.readNBytes(HEADER_BYTES);
            String[] lines = new String(head, StandardCharsets.US_ASCII).split("[\n\0]+");
            if (lines.length == 0 || !lines[0].equals(MAGIC)) {
                return new Checked(Optional.empty(), "no image header");
            }
            Map<String, String> fields = new LinkedHashMap<>();
            for (String line : lines) {
                int colon = line.indexOf(": ");
                if (colon > 0) {
                    fields.put(line.substring(0, colon), line.substring(colon + 2));
                }
            }
            byte[] payload = in.readAllBytes();
            if (!sha256(payload).equals(fields.get("payload-sha256"))) {
                return new Checked(
                        Optional.empty(),
                        "the image is damaged: its bytes do not match its header");
            }
            return new Checked(
                    Optional.of(
                            new PracticeImage(
                                    file.getFileName().toString(),
                                    fields.getOrDefault("family", ""),
                                    fields.getOrDefault("component", ""),
                                    fields.getOrDefault("version", ""),
                                    List.of(fields.getOrDefault("revisions", "").split(" ")),
                                    fields.getOrDefault("takes-settings-from", "0"),
                                    payload.length + HEADER_BYTES,
                                    fields.getOrDefault("variant", ""),
                                    Rules.of(fields))),
                    "");
        } catch (IOException gone) {
            return new Checked(Optional.empty(), "no such file");
        }
    }

    /** What checking a file gave: the image, or the problem. */
    record Checked(Optional<PracticeImage> image, String problem) {}

    static String sha256(byte[] bytes) {
        return HexFormat.of().formatHex(newSha256().digest(bytes));
    }

    static MessageDigest newSha256() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException(impossible);
        }
    }
}
