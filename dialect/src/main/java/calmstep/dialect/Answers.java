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
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.regex.Matcher;

/** Collects what the answers to the reading's commands tell, and makes a reading of it. */
final class Answers {
    /** A volume, and where in its answer it begins: the files that follow are its files. */
    private record Stretch(int begins, String name, long sizeBytes, long freeBytes, List<StoredFile> files, String part) {}

    private final Dialect dialect;
    private final Exchange exchange;
    private final Map<What, String> texts = new EnumMap<>(What.class);
    private final Map<What, Boolean> flags = new EnumMap<>(What.class);
    private final SortedMap<String, String> releases = new TreeMap<>();
    private final List<Stretch> volumes = new ArrayList<>();
    private final List<Fact> facts = new ArrayList<>();
    private final Map<String, PartShown> parts = new LinkedHashMap<>();
    private final SortedMap<String, String> waiting = new TreeMap<>();

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
            case FILE, FACT, PART, WAITING -> { }
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
            case RUNNING, NEXT, FALLBACK -> texts.merge(find.what(), matcher.group("value"), (first, next) -> first + BootChoice.PARTS + next);
            case HOST_NAME, MODEL, REVISION, SERIAL, BOOT_MARK -> texts.putIfAbsent(find.what(), matcher.group("value"));
            case RELEASE -> releases.putIfAbsent(find.kind(), matcher.group("value"));
            case VOLUME -> volumes.add(new Stretch(matcher.start(), matcher.group("name"), number(matcher.group("size")), number(matcher.group("free")), new ArrayList<>(), find.said(matcher, "part")));
            case FILE -> volumes.stream().filter(v -> v.begins() < matcher.start()).reduce((_, last) -> last)
                    .ifPresent(v -> v.files().add(new StoredFile(matcher.group("name"), number(matcher.group("size")))));
            case FACT -> facts.add(new Fact(find.kind(), matcher.group("name"), find.said(matcher, "value")));
            case WAITING -> waiting.putIfAbsent(find.kind(), matcher.group("value"));
            case PART -> parts.merge(find.kind() + " " + matcher.group("name"), part(find, matcher), Answers::joined);
            case SAVED, UNSAVED -> { }
        }
    }

    private static PartShown part(Find find, Matcher matcher) {
        Map<String, String> runs = new TreeMap<>();
        DialectText.componentsIn(find.shows()).forEach(component -> Optional.of(find.said(matcher, component)).filter(text -> !text.isEmpty()).ifPresent(text -> runs.put(component, text)));
        Part part = new Part(matcher.group("name"), find.kind().isEmpty() ? Part.Kind.MEMBER : Part.Kind.parse(find.kind()), find.said(matcher, "model"), find.said(matcher, "serial"), runs, List.of());
        return new PartShown(part, find.said(matcher, "role"), find.said(matcher, "state"), find.said(matcher, "mark"));
    }

    /** Several answers may each tell a bit of a part. */
    private static PartShown joined(PartShown one, PartShown other) {
        Map<String, String> runs = new TreeMap<>(other.part().runs());
        runs.putAll(one.part().runs());
        Part part = new Part(one.name(), one.part().kind(), first(one.part().model(), other.part().model()), first(one.part().serial(), other.part().serial()), runs, List.of());
        return new PartShown(part, first(one.role(), other.role()), first(one.state(), other.state()), first(one.mark(), other.mark()));
    }

    private static String first(String one, String other) {
        return one.isEmpty() ? other : one;
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
                volumes.stream().map(v -> new Volume(v.name(), v.sizeBytes(), v.freeBytes(), v.files(), v.part())).toList(),
                flags.getOrDefault(What.UNSAVED, true), configurationSha256, facts, List.copyOf(parts.values()), waiting);
    }
}
