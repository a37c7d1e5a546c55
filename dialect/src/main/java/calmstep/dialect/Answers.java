package calmstep.dialect;

import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.fleet.Part;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Fact;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.PartShown;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import calmstep.dialect.Dialect.Find;
import calmstep.dialect.Dialect.ReadCommand;
import calmstep.dialect.Dialect.What;
import calmstep.dialect.Sight.Row;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;

/** Collects what the answers to the reading's commands tell, and makes a reading of it. */
final class Answers {
    /** A volume, and where in its answer it begins: the files that follow are its files. */
    private record Stretch(
            int begins,
            String name,
            long sizeBytes,
            long freeBytes,
            List<StoredFile> files,
            String part) {}

    private final Dialect dialect;
    private final Exchange exchange;
    private final Map<What, String> texts = new EnumMap<>(What.class);
    private final Map<What, Boolean> flags = new EnumMap<>(What.class);
    private final SortedMap<String, String> releases = new TreeMap<>();
    private final List<Stretch> volumes = new ArrayList<>();
    private final Set<String> features = new TreeSet<>();
    private final List<Fact> facts = new ArrayList<>();
    private final Map<String, PartShown> parts = new LinkedHashMap<>();
    private final SortedMap<String, String> waiting = new TreeMap<>();

    Answers(Dialect dialect, Exchange exchange) {
        this.dialect = dialect;
        this.exchange = exchange;
    }

    void ask(ReadCommand command) {
        String answer =
                exchange.command(command.send(), List.of(), dialect.answersWithin(), false).text();
        command.finds().forEach(find -> take(command, find, answer));
    }

    private void take(ReadCommand command, Find find, String answer) {
        List<Row> rows = find.sight().in(answer);
        switch (find.what()) {
            case SAVED, UNSAVED -> flags.put(find.what(), !rows.isEmpty());
            case FILE, FACT, FEATURE, PART, WAITING -> {}
            default -> {
                mustTell(rows, find, command, answer);
            }
        }
        rows.forEach(row -> keep(command, find, row));
    }

    private void mustTell(List<Row> rows, Find find, ReadCommand command, String answer) {
        if (rows.isEmpty() && !find.optional()) {
            throw exchange.trouble(
                    Kind.UNREADABLE_ANSWER,
                    "an answer to \"%s\" that tells the %s"
                            .formatted(command.send(), word(find.what())),
                    "none of its lines does",
                    "The device's system may write it another way; mend the dialect's"
                            + " pattern.",
                    answer);
        }
    }

    private void keep(ReadCommand command, Find find, Row row) {
        switch (find.what()) {
            case RUNNING, NEXT, FALLBACK ->
                    texts.merge(
                            find.what(),
                            find.said(row, "value"),
                            (first, next) -> first + BootChoice.PARTS + next);
            case HOST_NAME, MODEL, REVISION, REGION, BRAND, SERIAL, BOOT_MARK ->
                    texts.putIfAbsent(find.what(), row.text("value"));
            case RELEASE -> releases.putIfAbsent(find.kind(), row.text("value"));
            case VOLUME ->
                    volumes.add(
                            new Stretch(
                                    row.at(),
                                    row.text("name"),
                                    number(command, row, "size"),
                                    number(command, row, "free"),
                                    new ArrayList<>(),
                                    find.said(row, "part")));
            case FILE ->
                    volumeOf(find, row)
                            .ifPresent(
                                    v ->
                                            v.files()
                                                    .add(
                                                            new StoredFile(
                                                                    row.text("name"),
                                                                    number(command, row, "size"))));
            case FACT ->
                    facts.add(new Fact(find.kind(), row.text("name"), find.said(row, "value")));
            case FEATURE -> features.addAll(words(find.said(row, "value")));
            case WAITING -> waiting.putIfAbsent(find.kind(), row.text("value"));
            case PART ->
                    parts.merge(
                            find.kind() + " " + row.text("name"), part(find, row), Answers::joined);
            case SAVED, UNSAVED -> {}
        }
    }

    /** In a text, files stand behind their volume; elsewhere there is one volume, or none. */
    private Optional<Stretch> volumeOf(Find find, Row row) {
        return find.sight() instanceof Sight.ByPattern
                ? volumes.stream().filter(v -> v.begins() < row.at()).reduce((_, last) -> last)
                : volumes.stream().findFirst();
    }

    private static PartShown part(Find find, Row row) {
        Part part =
                new Part(
                        row.text("name"),
                        find.kind().isEmpty() ? Part.Kind.MEMBER : Part.Kind.parse(find.kind()),
                        find.said(row, "model"),
                        find.said(row, "serial"),
                        find.releases(row),
                        List.of());
        return new PartShown(
                part, find.said(row, "role"), find.said(row, "state"), find.said(row, "mark"));
    }

    /** Several answers may each tell a bit of a part. */
    private static PartShown joined(PartShown one, PartShown other) {
        Map<String, String> runs = new TreeMap<>(other.part().runs());
        runs.putAll(one.part().runs());
        Part part =
                new Part(
                        one.name(),
                        one.part().kind(),
                        first(one.part().model(), other.part().model()),
                        first(one.part().serial(), other.part().serial()),
                        runs,
                        List.of());
        return new PartShown(
                part,
                first(one.role(), other.role()),
                first(one.state(), other.state()),
                first(one.mark(), other.mark()));
    }

    private static String first(String one, String other) {
        return one.isEmpty() ? other : one;
    }

    private long number(ReadCommand command, Row row, String name) {
        String digits = row.text(name).strip();
        try {
            return Long.parseLong(digits);
        } catch (NumberFormatException other) {
            throw exchange.trouble(
                    Kind.UNREADABLE_ANSWER,
                    "an answer to \"%s\" whose %s is a number of bytes"
                            .formatted(command.send(), name),
                    "\"%s\"".formatted(digits),
                    "Mend the dialect.",
                    row.whole());
        }
    }

    /** A device may tell them one by one, or in one line. */
    private static List<String> words(String line) {
        return Stream.of(line.split("[\\s,;+]+")).filter(word -> !word.isEmpty()).toList();
    }

    private static String word(What what) {
        return what.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    String text(What what) {
        return texts.getOrDefault(what, "");
    }

    Reading reading(Instant takenAt, String configurationSha256) {
        return new Reading(
                takenAt,
                new Identity(
                        text(What.HOST_NAME),
                        text(What.MODEL),
                        text(What.REVISION),
                        text(What.SERIAL),
                        text(What.REGION),
                        text(What.BRAND),
                        features),
                releases,
                new BootChoice(
                        text(What.RUNNING),
                        text(What.NEXT),
                        text(What.FALLBACK),
                        flags.getOrDefault(What.SAVED, false)),
                text(What.BOOT_MARK),
                volumes.stream()
                        .map(
                                v ->
                                        new Volume(
                                                v.name(),
                                                v.sizeBytes(),
                                                v.freeBytes(),
                                                v.files(),
                                                v.part()))
                        .toList(),
                flags.getOrDefault(What.UNSAVED, true),
                configurationSha256,
                facts,
                List.copyOf(parts.values()),
                waiting);
    }
}
