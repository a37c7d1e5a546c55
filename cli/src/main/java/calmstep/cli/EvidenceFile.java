package calmstep.cli;

import calmstep.core.evidence.EventChain;
import calmstep.core.evidence.Manifest;
import calmstep.core.step.Digests;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** An evidence archive on a disk. */
final class EvidenceFile {
    private static final String RECORD = "record.json";
    private static final int LARGEST_MANIFEST = 10_000_000;

    private EvidenceFile() {}

    /**
     * @param problems what is not as it was; empty where all is
     */
    record Verdict(String run, int files, int events, String lastHash, List<String> problems) {}

    /**
     * @param lastHash as somebody wrote it down; empty where nobody did
     */
    static Verdict verify(Path file, String lastHash) {
        if (!Files.isRegularFile(file)) {
            throw new Problem(Problem.WRONG_CALL, "There is no file %s here.".formatted(file));
        }
        try (ZipFile zip = new ZipFile(file.toFile(), StandardCharsets.UTF_8)) {
            Manifest manifest = manifest(zip);
            List<String> problems = new ArrayList<>(manifest.problems(digests(zip)));
            JsonNode record = record(zip);
            List<EventChain.Link> chain =
                    record.path("events").valueStream().map(EvidenceFile::link).toList();
            EventChain.brokenAt(chain)
                    .ifPresent(
                            at ->
                                    problems.add(
                                            "Event %s of %s does not follow from those before it: \"%s\"."
                                                    .formatted(
                                                            at,
                                                            chain.size(),
                                                            chain.get(at - 1).text())));
            String last = chain.isEmpty() ? "no event" : chain.getLast().hash();
            if (!lastHash.isEmpty() && !lastHash.equals(last)) {
                problems.add(
                        "The chain ends with another hash: expected %s, seen %s."
                                .formatted(lastHash, last));
            }
            return new Verdict(
                    record.path("run").asString(""),
                    manifest.sha256().size(),
                    chain.size(),
                    last,
                    problems);
        } catch (IOException | RuntimeException unreadable) {
            if (unreadable instanceof Problem problem) {
                throw problem;
            }
            throw new Problem(
                    Problem.STOPS,
                    "%s is no evidence archive of ours, or is damaged: %s."
                            .formatted(file, unreadable.getMessage()));
        }
    }

    private static Manifest manifest(ZipFile zip) throws IOException {
        ZipEntry entry = zip.getEntry(Manifest.NAME);
        if (entry == null || entry.getSize() > LARGEST_MANIFEST) {
            throw new Problem(
                    Problem.STOPS,
                    "%s has no %s that could be read, so nothing in it can be proven."
                            .formatted(zip.getName(), Manifest.NAME));
        }
        try (InputStream in = zip.getInputStream(entry)) {
            return Manifest.parse(new String(in.readAllBytes(), StandardCharsets.UTF_8));
        }
    }

    private static Map<String, String> digests(ZipFile zip) throws IOException {
        Map<String, String> digests = new TreeMap<>();
        byte[] piece = new byte[65_536];
        for (ZipEntry entry :
                zip.stream().filter(one -> !one.getName().equals(Manifest.NAME)).toList()) {
            MessageDigest digest = Digests.newSha256();
            try (InputStream in = zip.getInputStream(entry)) {
                for (int count = in.read(piece); count >= 0; count = in.read(piece)) {
                    digest.update(piece, 0, count);
                }
            }
            digests.put(entry.getName(), HexFormat.of().formatHex(digest.digest()));
        }
        return digests;
    }

    private static JsonNode record(ZipFile zip) throws IOException {
        ZipEntry entry = zip.getEntry(RECORD);
        if (entry == null) {
            throw new Problem(
                    Problem.STOPS,
                    "%s has no %s, so there is no chain to prove."
                            .formatted(zip.getName(), RECORD));
        }
        try (InputStream in = zip.getInputStream(entry)) {
            return JsonMapper.shared().readTree(in);
        }
    }

    static EventChain.Link link(JsonNode event) {
        return new EventChain.Link(
                event.path("runId").isNull() ? "null" : event.path("runId").asString(),
                event.path("subject").asString(),
                event.path("kind").asString(),
                Instant.parse(event.path("at").asString()),
                event.path("who").asString(),
                event.path("text").asString(),
                event.path("hash").asString());
    }
}
