package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import calmstep.check.Sweep;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.BackupKind;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.fleet.Reading;
import calmstep.practice.Fault;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Queue;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * The same of all families: what is pulled off can be put back, and each fault ends as it should,
 * in words that a person can act on.
 */
@Tag("sweep")
class EveryFamilyTest {
    /**
     * @param ends where the unit stands in the end: settled, or stuck at a step
     * @param says what a person reads, of the trouble where it is stuck, of what was told where it
     *     is settled
     * @param except families that cannot have it
     */
    private record Expected(Fault fault, String ends, String says, Set<String> except) {}

    private static final List<Expected> FAULTS =
            List.of(
                    new Expected(
                            Fault.CUTS_NEXT_COPY,
                            "stuck at stage|settled",
                            "cut after|the line was cut|fetch|stage done",
                            Set.of("skelda-l4")),
                    new Expected(
                            Fault.RUNS_OUT_OF_ROOM,
                            "stuck at stage|settled",
                            "no room left|stage done",
                            Set.of("skelda-l4")),
                    new Expected(
                            Fault.DAMAGES_COPIES,
                            "stuck at confirm-image",
                            "Two copies came out wrong",
                            Set.of()),
                    new Expected(Fault.DAMAGES_NEXT_COPY, "settled", "stage done", Set.of()),
                    new Expected(
                            Fault.REACHES_NOTHING,
                            "stuck at stage",
                            "no answer from",
                            Set.of("wending-m2")),
                    new Expected(Fault.SLOW_LINK, "settled", "stage done", Set.of()),
                    new Expected(
                            Fault.ASKS_SOMETHING_NEW,
                            "stuck at restart(?:-standbys)?",
                            "asks",
                            Set.of("skelda-l4")),
                    new Expected(
                            Fault.FORGETS_THE_CHOICE,
                            "stuck at prove|stuck at choose-boot|stuck at restart(?:-standbys)?",
                            "old release|did not keep|chosen|came back on",
                            Set.of()),
                    new Expected(
                            Fault.STOPS_IN_BOOT_LOADER,
                            "stuck at come-back|stuck at restart(?:-standbys)?",
                            "boot loader|given up|back in sync",
                            Set.of()),
                    new Expected(
                            Fault.STARTS_THE_OLD_IMAGE,
                            "stuck at prove|stuck at restart(?:-standbys)?|stuck at come-back",
                            "old release|came back on|back in sync",
                            Set.of()),
                    new Expected(
                            Fault.LOSES_A_LICENCE,
                            "settled",
                            "look at: licence",
                            Set.of("osmer-r6", "tarnel-t2", "quoyle-q4", "wending-m2")),
                    // In a pair that moves side by side, the one that joins takes over what the
                    // other one has.
                    new Expected(
                            Fault.REWRITES_A_LINE,
                            "settled",
                            "1 lines dropped, 1 added",
                            Set.of("brannoch-b2")),
                    // Nobody listens here: what a device says there is heard where a service drives
                    // it.
                    new Expected(Fault.COMPLAINS_AT_ITS_START, "settled", "prove done", Set.of()),
                    new Expected(
                            Fault.STAYS_SILENT,
                            "stuck at come-back|stuck at restart(?:-standbys)?",
                            "given up|back in sync",
                            Set.of()),
                    // Of a pair the one that leads afterwards tells its own links.
                    new Expected(
                            Fault.LOSES_A_LINK,
                            "settled",
                            "look at: interface",
                            Set.of("brannoch-b2")),
                    // Where its last words still come through it has refused the copy, and a person
                    // is asked.
                    new Expected(
                            Fault.RESTARTS_IN_A_COPY,
                            "settled|stuck at stage",
                            "stage done|going down",
                            Set.of("skelda-l4")),
                    new Expected(
                            Fault.KEEPS_A_FLOW,
                            "stuck at drain",
                            "1 flows, spared",
                            without("brannoch-b2")),
                    // It was out before as well: whoever plans is told, and no start is blamed.
                    new Expected(Fault.LOSES_A_FEED, "settled", "prove done", Set.of()),
                    new Expected(Fault.STARTS_SLOWLY, "settled", "come-back done", Set.of()),
                    new Expected(
                            Fault.DOES_NOT_REJOIN,
                            "stuck at restart(?:-standbys)?|stuck at come-back",
                            "member (?:2|right)",
                            without("tarnel-t2", "brannoch-b2")),
                    new Expected(
                            Fault.LOSES_A_DEPENDENT,
                            "settled",
                            "dependent \\S+ was in sync, is gone",
                            without("ivrel-c5")),
                    new Expected(
                            Fault.PARTNER_OUT_OF_SYNC,
                            "stuck at check",
                            "sync",
                            without("tarnel-t2", "quoyle-q4", "brannoch-b2")),
                    new Expected(
                            Fault.REFUSES_THE_PASSWORD,
                            "stuck at check",
                            "refuses the user or the password|answers 401",
                            Set.of("skelda-l4")),
                    new Expected(
                            Fault.ANSWERS_NOBODY,
                            "stuck at check",
                            "no answer|Connection refused",
                            Set.of()));

    /** All families but these. */
    private static Set<String> without(String... families) {
        return Sample.OF_EACH_FAMILY.stream()
                .map(Sample::family)
                .filter(family -> !List.of(families).contains(family))
                .collect(Collectors.toSet());
    }

    @TempDir private Path folder;

    private final AtomicInteger nights = new AtomicInteger();
    private final Map<String, String> ends = new ConcurrentHashMap<>();

    private UnitNight night(Sample sample) throws Exception {
        return sample.night(folder.resolve("night-" + nights.incrementAndGet()));
    }

    @Test
    void whatIsPulledOffCanBePutBack() throws Exception {
        for (Sample sample : Sample.OF_EACH_FAMILY) {
            try (UnitNight night = night(sample);
                    Door door = night.door()) {
                if (!door.dialect().abilities().putsBack()) {
                    assertThat(sample.family())
                            .as("the only one that takes its settings from its own plate")
                            .isEqualTo("skelda-l4");
                    continue;
                }
                DeviceSession session = door.session();
                String kept = session.pullOff(BackupKind.RUNNING);
                List<String> lines = night.fleet.machine(sample.device()).keptSettings();
                night.fleet.machine(sample.device()).changeSettings("a line that somebody added");
                ConfigurationComparison changed =
                        door.dialect().compare(kept, session.pullOff(BackupKind.RUNNING));
                assertThat(changed.added())
                        .as(sample.family())
                        .containsExactly("a line that somebody added");
                session.putBack(BackupKind.RUNNING, kept);
                session.save();
                assertThat(
                                door.dialect()
                                        .compare(kept, session.pullOff(BackupKind.RUNNING))
                                        .isSame())
                        .as(sample.family())
                        .isTrue();
                assertThat(session.read().unsavedChanges()).as(sample.family()).isFalse();
                assertThat(night.fleet.machine(sample.device()).keptSettings())
                        .as("%s: line by line, each as deep as it stood", sample.family())
                        .isEqualTo(lines);
                assertThat(night.talk)
                        .as(sample.family())
                        .noneMatch(text -> text.matches("(?s).*secret [0-9a-f]{10}.*"));
            }
        }
    }

    /**
     * A device that was told nothing since it was read is not read once more within seconds; one
     * that was told something is.
     */
    @Test
    void whatWasJustReadIsNotAskedAgainUnlessSomethingWasDone() throws Exception {
        for (Sample sample : Sample.OF_EACH_FAMILY) {
            try (UnitNight night = night(sample);
                    Door door = night.door()) {
                DeviceSession session = door.session();
                Reading first = session.read();
                int said = night.talk.size();
                assertThat(session.read()).as(sample.family()).isSameAs(first);
                assertThat(night.talk).as(sample.family()).hasSize(said);
                session.sha256Of(first.boot().running().split(" \\+ ")[0]);
                assertThat(session.read())
                        .as("%s: a question changes nothing", sample.family())
                        .isSameAs(first);
                assertThat(session.readNow())
                        .as("%s: before what cannot be undone", sample.family())
                        .isNotSameAs(first);
                first = session.read();
                session.save();
                assertThat(session.read())
                        .as("%s: it was told to save", sample.family())
                        .isNotSameAs(first);
            }
        }
    }

    /**
     * Whole to its end mark, the same when it is pulled off twice, masked wherever it is talked of;
     * and where there is none, somebody said what is missing.
     */
    @Test
    void whatElseAFamilyGivesIsPulledOffWholeAndNeverShown() throws Exception {
        Set<String> give = new TreeSet<>();
        for (Sample sample : Sample.OF_EACH_FAMILY) {
            try (UnitNight night = night(sample);
                    Door door = night.door()) {
                DeviceSession session = door.session();
                assertThat(session.kinds())
                        .as(sample.family())
                        .startsWith(BackupKind.RUNNING, BackupKind.STARTUP);
                assertThat(door.dialect().cannotGive()).as(sample.family()).isNotEmpty();
                for (BackupKind kind :
                        session.kinds().stream().filter(one -> !one.isConfiguration()).toList()) {
                    String text = session.pullOff(kind);
                    assertThat(text.lines())
                            .as("%s, %s", sample.family(), kind)
                            .hasSizeGreaterThan(1);
                    assertThat(session.pullOff(kind))
                            .as("%s, %s", sample.family(), kind)
                            .isEqualTo(text);
                    give.add(sample.family() + " " + kind);
                }
                assertThat(night.talk)
                        .as(sample.family())
                        .noneMatch(text -> text.matches("(?s).*\\b[Kk](?:ey|EY) [0-9A-F]{16}.*"));
            }
        }
        assertThat(give)
                .containsExactly(
                        "brannoch-b2 licence-keys",
                        "corvane-v8 licence-keys",
                        "ivrel-c5 licence-keys",
                        "wending-m2 certificate");
    }

    @Test
    void whatElseWasPulledOffIsPutBackWhereTheDialectSaysHow() throws Exception {
        Set<String> put = new TreeSet<>();
        for (Sample sample : Sample.OF_EACH_FAMILY) {
            try (UnitNight night = night(sample);
                    Door door = night.door()) {
                DeviceSession session = door.session();
                for (BackupKind kind :
                        session.kinds().stream()
                                .filter(one -> !one.isConfiguration())
                                .filter(door.dialect()::putsBack)
                                .toList()) {
                    String kept = session.pullOff(kind);
                    night.fleet.forgetLicences(sample.device());
                    assertThat(door.dialect().compare(kept, session.pullOff(kind)).dropped())
                            .as("%s, %s: gone", sample.family(), kind)
                            .hasSize(3);
                    session.putBack(kind, kept);
                    assertThat(session.pullOff(kind))
                            .as("%s, %s", sample.family(), kind)
                            .isEqualTo(kept);
                    assertThatThrownBy(
                                    () ->
                                            session.putBack(
                                                    kind, kept.replaceAll("key [0-9A-F]", "key 0")))
                            .as("another unit's keys")
                            .isInstanceOf(DeviceTrouble.class)
                            .hasMessageNotContaining(
                                    kept.lines().skip(1).findFirst().orElseThrow());
                    put.add(sample.family() + " " + kind);
                }
                assertThat(night.talk)
                        .as(sample.family())
                        .noneMatch(text -> text.matches("(?s).*\\b[Kk](?:ey|EY) [0-9A-F]{16}.*"));
            }
        }
        assertThat(put).containsExactly("brannoch-b2 licence-keys");
    }

    @Test
    void eachFaultEndsAsItShouldInWordsThatHelp() throws Exception {
        Queue<String> wrong = new ConcurrentLinkedQueue<>();
        AtomicInteger tried = new AtomicInteger();
        try (ExecutorService families =
                Executors.newFixedThreadPool(Sample.OF_EACH_FAMILY.size())) {
            List<Future<?>> all = new ArrayList<>();
            for (Sample sample : Sample.OF_EACH_FAMILY) {
                all.add(
                        families.submit(
                                () -> {
                                    for (Expected expected :
                                            Sweep.of("faults of " + sample.family(), 5, FAULTS)) {
                                        if (!expected.except().contains(sample.family())) {
                                            tried.incrementAndGet();
                                            tryFault(sample, expected).ifPresent(wrong::add);
                                        }
                                    }
                                    return null;
                                }));
            }
            for (Future<?> family : all) {
                family.get();
            }
        }
        System.out.print(table(tried.get(), wrong.size()));
        assertThat(wrong).isEmpty();
    }

    /** Where each family ends with each fault. */
    private String table(int tried, int wrong) {
        StringBuilder text = new StringBuilder("%-22s".formatted("stuck at, or settled"));
        Sample.OF_EACH_FAMILY.forEach(sample -> text.append("%-15s".formatted(sample.family())));
        for (Expected expected : FAULTS) {
            text.append("%n%-22s".formatted(expected.fault()));
            Sample.OF_EACH_FAMILY.forEach(
                    sample ->
                            text.append(
                                    "%-15s"
                                            .formatted(
                                                    ends.getOrDefault(row(sample, expected), "-")
                                                            .replace("stuck at ", ""))));
        }
        return text.append(
                        "%n%s rows: %s settled, %s stuck; %s went another way.%n"
                                .formatted(
                                        tried,
                                        ends.values().stream().filter("settled"::equals).count(),
                                        ends.values().stream()
                                                .filter(end -> !end.equals("settled"))
                                                .count(),
                                        wrong))
                .toString();
    }

    private static String row(Sample sample, Expected expected) {
        return "%s, %s".formatted(sample.family(), expected.fault());
    }

    /**
     * @return what went another way
     */
    private Optional<String> tryFault(Sample sample, Expected expected) throws Exception {
        String row = row(sample, expected);
        try (UnitNight night = night(sample)) {
            night.fleet.troubleAt(sample.device(), 1 + Math.floorMod(row.hashCode(), 98));
            night.fleet.add(sample.device(), expected.fault());
            String end = night.play();
            ends.put(row, end);
            String read =
                    end.equals("settled")
                            ? night.story()
                            : night.trouble().orElseThrow().sentence();
            if (!end.matches(expected.ends())
                    || !read.matches("(?s).*(?:" + expected.says() + ").*")) {
                return Optional.of(
                        "%s: expected %s and \"%s\", saw %s and: %s"
                                .formatted(row, expected.ends(), expected.says(), end, read));
            }
            String runs = end.equals("settled") ? night.read().system() : sample.target();
            return runs.equals(sample.target())
                    ? Optional.empty()
                    : Optional.of("%s: called settled and runs %s".formatted(row, runs));
        }
    }

    /** Many at once: the key must be looked at however soon it is shown. */
    @Test
    void noSessionOfManyIsOpenedToAnotherKey() throws Exception {
        try (UnitNight night = night(Sample.OF_EACH_FAMILY.getFirst());
                ExecutorService many = Executors.newVirtualThreadPerTaskExecutor()) {
            List<Future<DeviceTrouble.Kind>> all = new ArrayList<>();
            for (int number = 0; number < 60; number++) {
                all.add(
                        many.submit(
                                () -> {
                                    try (Door door = night.door("SHA256:another")) {
                                        return catchThrowableOfType(
                                                        DeviceTrouble.class,
                                                        () -> door.session().read())
                                                .kind();
                                    }
                                }));
            }
            for (Future<DeviceTrouble.Kind> one : all) {
                assertThat(one.get()).isEqualTo(DeviceTrouble.Kind.HOST_KEY_CHANGED);
            }
        }
    }

    @Test
    void anotherHostKeyIsAStopWithBothFingerprints() throws Exception {
        for (Sample sample : Sample.OF_EACH_FAMILY) {
            if (sample.family().equals("skelda-l4")) {
                continue;
            }
            try (UnitNight night = night(sample)) {
                String first;
                try (Door door = night.door()) {
                    door.session().read();
                    first = door.seenHostKey();
                }
                night.fleet.changeHostKey(sample.device());
                try (Door door = night.door(first)) {
                    DeviceTrouble trouble =
                            catchThrowableOfType(DeviceTrouble.class, () -> door.session().read());
                    assertThat(trouble.kind())
                            .as(sample.family())
                            .isEqualTo(DeviceTrouble.Kind.HOST_KEY_CHANGED);
                    assertThat(trouble.trouble().expected()).contains(first);
                    assertThat(trouble.trouble().seen()).contains("SHA256:").doesNotContain(first);
                }
            }
        }
    }
}
