package calmstep.service.records;

import static calmstep.core.known.Known.known;

import calmstep.core.evidence.Manifest;
import calmstep.core.step.Digests;
import calmstep.core.text.CsvText;
import calmstep.service.records.RunRecord.UnitRecord;
import calmstep.service.runs.RunView.UnitInRun;
import calmstep.service.runs.RunViews.TalkLine;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;

/** A record with everything that belongs to it, as one file: the same bytes each time. */
final class EvidenceArchive {
    private static final List<String> COLUMNS =
            List.of(
                    "device",
                    "site",
                    "from",
                    "wanted",
                    "reached",
                    "outcome",
                    "restarts",
                    "dark planned (s)",
                    "dark seen (s)",
                    "how it stands",
                    "begun",
                    "ended",
                    "go said by",
                    "go said at",
                    "backups",
                    "set aside because");
    private static final String HOW =
            """
            What is in this archive
              record.json   the record of the run, byte for byte as its digest was taken; it holds the run's events with their hashes
              record.html   the same as a page to read and print
              units.csv     planned against reached, one line a unit (RFC 4180)
              talk/         everything typed to each device and answered, secrets masked
              %1$s    SHA-256 of each of these files

            How to check it
              sha256sum --check %1$s     with the tools of any Linux
              calmstep record verify FILE    the same, and the chain of the events; no service is needed

            The chain ends with the hash %2$s.
            Compare it with the one that was written down when the run ended: a chain that was made anew as a whole ends with another one.
            """;

    private final Map<String, String> files = new LinkedHashMap<>();
    private final Instant madeAt;

    /**
     * @param json the record's text, as its digest was taken
     */
    EvidenceArchive(RunRecord record, String json, String page) {
        madeAt = record.madeAt();
        files.put("record.json", json);
        files.put("record.html", page);
        files.put("units.csv", table(record));
        record.units()
                .forEach(unit -> files.put("talk/%s.txt".formatted(unit.device()), talk(unit)));
        files.put(
                "READ-ME.txt",
                HOW.formatted(
                        Manifest.NAME,
                        record.events().isEmpty()
                                ? "of no event"
                                : record.events().getLast().hash()));
    }

    void writeTo(OutputStream out) throws IOException {
        Map<String, String> sha256 =
                files.entrySet().stream()
                        .collect(
                                Collectors.toMap(
                                        Map.Entry::getKey,
                                        file -> Digests.sha256(file.getValue())));
        try (ZipOutputStream zip = new ZipOutputStream(out, StandardCharsets.UTF_8)) {
            for (Map.Entry<String, String> file : files.entrySet()) {
                put(zip, file.getKey(), file.getValue());
            }
            put(zip, Manifest.NAME, new Manifest(sha256).toString());
        }
    }

    private void put(ZipOutputStream zip, String name, String text) throws IOException {
        ZipEntry entry = new ZipEntry(name);
        entry.setTime(madeAt.toEpochMilli());
        zip.putNextEntry(entry);
        zip.write(text.getBytes(StandardCharsets.UTF_8));
        zip.closeEntry();
    }

    /** Planned against reached, a line a unit. */
    static String table(RunRecord record) {
        Map<String, UnitRecord> units =
                record.units().stream().collect(Collectors.toMap(UnitRecord::device, unit -> unit));
        Map<String, Account.Line> lines =
                Account.of(record).units().stream()
                        .collect(Collectors.toMap(Account.Line::device, line -> line));
        return Stream.concat(
                        Stream.of(COLUMNS),
                        record.outcome().units().stream()
                                .map(
                                        unit ->
                                                row(
                                                        unit,
                                                        known(units, unit.device()),
                                                        known(lines, unit.device()))))
                .map(
                        row ->
                                row.stream().map(CsvText::written).collect(Collectors.joining(","))
                                        + "\r\n")
                .collect(Collectors.joining());
    }

    private static List<String> row(UnitInRun unit, UnitRecord kept, Account.Line line) {
        List<Instant> times =
                unit.steps().stream()
                        .flatMap(step -> Stream.ofNullable(step.startedAt()))
                        .sorted()
                        .toList();
        List<Instant> ends =
                unit.steps().stream()
                        .flatMap(step -> Stream.ofNullable(step.finishedAt()))
                        .sorted()
                        .toList();
        return List.of(
                unit.device(),
                unit.site(),
                unit.from(),
                unit.to(),
                line.after() == null ? "" : line.after(),
                unit.state(),
                String.valueOf(unit.restarts()),
                String.valueOf(unit.darkSeconds()),
                line.seenDark() == null ? "" : String.valueOf(line.seenDark()),
                line.standing(),
                times.isEmpty() ? "" : times.getFirst().toString(),
                ends.isEmpty() ? "" : ends.getLast().toString(),
                unit.gate() == null || unit.gate().by() == null ? "" : unit.gate().by(),
                unit.gate() == null || unit.gate().at() == null ? "" : unit.gate().at().toString(),
                String.valueOf(kept.backups().size()),
                unit.setAsideWhy() == null ? "" : unit.setAsideWhy());
    }

    /** What is answered behind what was overheard must not be taken for more of that. */
    private static String talk(UnitRecord unit) {
        StringBuilder talk = new StringBuilder();
        String before = "";
        for (TalkLine line : unit.talk()) {
            talk.append(said(line, before));
            before = line.direction();
        }
        return talk.toString();
    }

    private static String said(TalkLine line, String before) {
        String text = line.text().indent(4);
        return switch (line.direction()) {
            case "typed" -> "%s  typed: %s%n".formatted(line.at(), line.text());
            case "overheard" -> "%s  on its console line:%n%s".formatted(line.at(), text);
            default ->
                    before.equals("overheard")
                            ? "%s  answered:%n%s".formatted(line.at(), text)
                            : text;
        };
    }
}
