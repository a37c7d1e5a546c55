package calmstep.dialect;

import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Fact;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import calmstep.dialect.Dialect.Find;
import calmstep.dialect.Dialect.ReadCommand;
import calmstep.dialect.Dialect.What;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.regex.Matcher;

/** Collects what the answers to the reading's commands tell, and makes a reading of it. */
final class Answers {
    /** A volume, and where in its answer it begins: the files that follow are its files. */
    private record Stretch(int begins, String name, long sizeBytes, long freeBytes, List<StoredFile> files) {}

    private final Dialect dialect;
    private final Exchange exchange;
    private final Map<What, String> texts = new EnumMap<>(What.class);
    private final Map<What, Boolean> flags = new EnumMap<>(What.class);
    private final SortedMap<String, String> releases = new TreeMap<>();
    private final List<Stretch> volumes = new ArrayList<>();
    private final List<Fact> facts = new ArrayList<>();

    Answers(Dialect dialect, Exchange exchange) {
        this.dialect = dialect;
        this.exchange = exchange;
    }

    void ask(ReadCommand command) {
        String answer = exchange.command(command.send(), List.of(), dialect.answersWithin(), false).text();
        command.finds().forEach(find -> take(command, find, answer));
    }

    private void take(ReadCommand command, Find find, String answer) {
        Matcher matcher = find.shows().matcher(answer);
        boolean found = matcher.find();
        switch (find.what()) {
            case SAVED, UNSAVED -> flags.put(find.what(), found);
            case FILE, FACT -> { }
            default -> {
                if (!found && !find.optional()) {
                    throw exchange.trouble(Kind.UNREADABLE_ANSWER, "an answer to \"%s\" that tells the %s".formatted(command.send(), word(find.what())),
                            "none of its lines does", "The device's system may write it another way; mend the dialect's pattern.", answer);
                }
            }
        }
        matcher.reset();
        while (matcher.find()) {
            keep(find, matcher);
        }
    }

    private void keep(Find find, Matcher matcher) {
        switch (find.what()) {
            case HOST_NAME, MODEL, REVISION, SERIAL, BOOT_MARK, RUNNING, NEXT, FALLBACK -> texts.putIfAbsent(find.what(), matcher.group("value"));
            case RELEASE -> releases.putIfAbsent(find.kind(), matcher.group("value"));
            case VOLUME -> volumes.add(new Stretch(matcher.start(), matcher.group("name"), number(matcher.group("size")), number(matcher.group("free")), new ArrayList<>()));
            case FILE -> volumes.stream().filter(v -> v.begins() < matcher.start()).reduce((_, last) -> last)
                    .ifPresent(v -> v.files().add(new StoredFile(matcher.group("name"), number(matcher.group("size")))));
            case FACT -> facts.add(new Fact(find.kind(), matcher.group("name"), matcher.group("value")));
            case SAVED, UNSAVED -> { }
        }
    }

    private static long number(String digits) {
        return Long.parseLong(digits);
    }

    private static String word(What what) {
        return what.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    String text(What what) {
        return texts.getOrDefault(what, "");
    }

    Reading reading(Instant takenAt, String configurationSha256) {
        return new Reading(takenAt, new Identity(text(What.HOST_NAME), text(What.MODEL), text(What.REVISION), text(What.SERIAL)), releases,
                new BootChoice(text(What.RUNNING), text(What.NEXT), text(What.FALLBACK), flags.getOrDefault(What.SAVED, false)), text(What.BOOT_MARK),
                volumes.stream().map(v -> new Volume(v.name(), v.sizeBytes(), v.freeBytes(), v.files())).toList(),
                flags.getOrDefault(What.UNSAVED, true), configurationSha256, facts);
    }
}
