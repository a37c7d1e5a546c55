package calmstep.dialect;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Await;
import calmstep.check.Sweep;
import calmstep.core.device.Trouble;
import calmstep.core.step.StepName;
import calmstep.core.step.StepRecord;
import calmstep.practice.Fault;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Queue;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * One night for each family and each kind of blow, and the blow strikes at every step of it: where
 * the unit is stuck, a person reads why, the trouble goes, and the step is tried again. In the end
 * each unit stands where it stands when nothing strikes: release, settings, files, and as many
 * restarts.
 */
@Tag("sweep")
class EveryStepTest {
    private static final int MOST_ROUNDS = 60;

    /** What strikes, and what a person reads where a unit is stuck by it. */
    private enum Blow {
        /** From the step's first look on, the device answers nobody. */
        SILENCE(
                "no answer|Connection refused|does not answer|back in sync|given up|before the boot"
                        + " choice|the line was cut"),
        /** From the step's first look on, it lets nobody sign in. */
        LOCKED_OUT(
                "refuses the user or the password|answers 401|unknownUserName|not accepted|no"
                        + " answer|given up"),
        /** Somebody pulls its plug when the step begins, and puts it back. */
        POWER_CUT("."),
        /** The service dies behind the intent, before anything is done. */
        DEATH_BEFORE_THE_ACT("never"),
        /** The service dies behind the act, before anything is proven. */
        DEATH_BEHIND_THE_ACT("never");

        /**
         * Their silence is told by time alone, a minute for each step, and a wrong password is
         * silence too; other tests have both.
         */
        private static final Set<Blow> OF_WHOEVER_ASKS_BY_DATAGRAMS =
                EnumSet.complementOf(EnumSet.of(SILENCE, LOCKED_OUT));

        private final String says;

        Blow(String says) {
            this.says = says;
        }
    }

    /** How a unit stands in the end. */
    private record Stands(String release, List<String> settings, Set<String> files, int restarts) {
        private static Stands of(UnitNight night, Sample sample) {
            return new Stands(
                    night.read().system(),
                    night.fleet.machine(sample.device()).keptSettings(),
                    Set.copyOf(night.fleet.machine(sample.device()).flash().files().keySet()),
                    night.fleet.machine(sample.device()).restarts().size());
        }
    }

    @TempDir private Path folder;

    private final Map<String, Stands> undisturbed = new ConcurrentHashMap<>();
    private final Map<String, String> ends = new ConcurrentHashMap<>();
    private final Queue<String> wrong = new ConcurrentLinkedQueue<>();

    @Test
    void whereverABlowStrikesTheUnitStandsInTheEndWhereItStandsWithout() throws Exception {
        try (ExecutorService families =
                Executors.newFixedThreadPool(Sample.OF_EACH_FAMILY.size())) {
            List<Future<?>> all = new ArrayList<>();
            for (Sample sample : Sample.OF_EACH_FAMILY) {
                all.add(
                        families.submit(
                                () -> {
                                    try (UnitNight night =
                                            sample.night(folder.resolve(sample.family()))) {
                                        assertThat(undisturbed(night))
                                                .as(sample.family())
                                                .isEqualTo("settled");
                                        undisturbed.put(sample.family(), Stands.of(night, sample));
                                    }
                                    for (Blow blow :
                                            Sweep.of(
                                                    "blows at " + sample.family(),
                                                    2,
                                                    List.copyOf(blowsFor(sample)))) {
                                        strike(sample, blow);
                                    }
                                    return null;
                                }));
            }
            for (Future<?> family : all) {
                family.get();
            }
        }
        System.out.print(table());
        assertThat(wrong).isEmpty();
    }

    /**
     * A machine that others use too may stand still for longer than a device is waited for here,
     * some seconds: then it is back already, and is looked at once more.
     */
    private static String undisturbed(UnitNight night) throws InterruptedException {
        String end = night.play();
        for (int round = 0; end.equals("stuck at come-back") && round < MOST_ROUNDS; round++) {
            night.retry();
            end = night.play();
        }
        return end;
    }

    private static Set<Blow> blowsFor(Sample sample) {
        return sample.family().equals("skelda-l4")
                ? Blow.OF_WHOEVER_ASKS_BY_DATAGRAMS
                : EnumSet.allOf(Blow.class);
    }

    private void strike(Sample sample, Blow blow) throws Exception {
        try (UnitNight night = sample.night(folder.resolve(sample.family() + "-" + blow))) {
            Blows blows = new Blows(night, sample, blow);
            night.struckBy(blows);
            String end = night.play();
            for (int round = 0; !end.equals("settled") && round < MOST_ROUNDS; round++) {
                StepName step = StepName.parse(end.replace("stuck at ", ""));
                Trouble trouble = night.trouble().orElseThrow();
                ends.put(cell(sample, blow, step), "stuck");
                if (!trouble.sentence().matches("(?s).*(?:" + blow.says + ").*")
                        || trouble.remedy().isBlank()) {
                    wrong.add(
                            "%s, %s at %s: it says %s"
                                    .formatted(sample.family(), blow, step, trouble.sentence()));
                }
                blows.end();
                night.retry();
                end = night.play();
            }
            blows.end();
            Stands stands =
                    end.equals("settled")
                            ? Stands.of(night, sample)
                            : new Stands(end, List.of(), Set.of(), 0);
            Stands expected = undisturbed.get(sample.family());
            // A start that nobody ordered may spare the one that was planned.
            if (!stands.equals(expected)
                    && !(blow == Blow.POWER_CUT
                            && stands.restarts() < expected.restarts()
                            && new Stands(
                                            stands.release(),
                                            stands.settings(),
                                            stands.files(),
                                            expected.restarts())
                                    .equals(expected))) {
                wrong.add(
                        "%s, %s: expected %s, stands %s; %s"
                                .formatted(sample.family(), blow, expected, stands, night.story()));
            }
        }
    }

    private static String cell(Sample sample, Blow blow, StepName step) {
        return "%s %s %s".formatted(blow, step, sample.family());
    }

    /** Strikes once at each step. */
    private final class Blows implements UnitNight.Struck {
        private final UnitNight night;
        private final Sample sample;
        private final Blow blow;
        private final Set<String> done = new HashSet<>();

        private Blows(UnitNight night, Sample sample, Blow blow) {
            this.night = night;
            this.sample = sample;
            this.blow = blow;
        }

        private boolean isFirst(StepRecord step) {
            boolean first = done.add(step.hop() + " " + step.name());
            if (first) {
                ends.putIfAbsent(cell(sample, blow, step.name()), "went on");
            }
            return first;
        }

        @Override
        public void looking(StepRecord step) {
            switch (blow) {
                case SILENCE -> faultAt(step, Fault.ANSWERS_NOBODY);
                case LOCKED_OUT -> faultAt(step, Fault.REFUSES_THE_PASSWORD);
                case POWER_CUT -> {
                    if (isFirst(step)) {
                        night.fleet.powerCycle(sample.device(), 1);
                    }
                }
                case DEATH_BEFORE_THE_ACT, DEATH_BEHIND_THE_ACT -> {}
            }
        }

        private void faultAt(StepRecord step, Fault fault) {
            if (isFirst(step)) {
                night.fleet.clearFaults(sample.device());
                night.fleet.add(sample.device(), fault);
            }
        }

        @Override
        public void acting(StepRecord step) {
            if (blow == Blow.DEATH_BEFORE_THE_ACT && isFirst(step)) {
                throw new UnitNight.Died();
            }
        }

        @Override
        public void proving(StepRecord step) {
            if (blow == Blow.DEATH_BEHIND_THE_ACT && isFirst(step)) {
                throw new UnitNight.Died();
            }
        }

        private void end() throws InterruptedException {
            night.fleet.clearFaults(sample.device());
            Await.until(
                    Duration.ofSeconds(30),
                    "the machine has come to rest",
                    () -> !night.fleet.isBusy(sample.device()));
            night.fleet.clearFaults(sample.device());
        }
    }

    /**
     * Of each blow at each step: in how many families the unit went on by itself, and in which ones
     * it was stuck until the trouble was gone.
     */
    private String table() {
        StringBuilder text =
                new StringBuilder(
                        "%-22s%-16s%s%n"
                                .formatted(
                                        "blow",
                                        "at",
                                        "families that went on by themselves, and those that waited"
                                                + " for a person"));
        for (Blow blow : Blow.values()) {
            for (StepName step : StepName.values()) {
                Map<String, List<String>> by =
                        ends.entrySet().stream()
                                .filter(
                                        entry ->
                                                entry.getKey()
                                                        .startsWith("%s %s ".formatted(blow, step)))
                                .collect(
                                        Collectors.groupingBy(
                                                Map.Entry::getValue,
                                                TreeMap::new,
                                                Collectors.mapping(
                                                        entry ->
                                                                entry.getKey()
                                                                        .replaceAll(".* ", "")
                                                                        .replaceAll("-.*", ""),
                                                        Collectors.toList())));
                if (!by.isEmpty()) {
                    text.append(
                            "%-22s%-16s%s went on, %s stuck %s%n"
                                    .formatted(
                                            blow,
                                            step,
                                            by.getOrDefault("went on", List.of()).size(),
                                            by.getOrDefault("stuck", List.of()).size(),
                                            by.getOrDefault("stuck", List.of()).stream()
                                                    .sorted()
                                                    .toList()));
                }
            }
        }
        return text.append(
                        "%s blows: %s went on, %s stuck until the trouble was gone; %s went another way.%n"
                                .formatted(
                                        ends.size(),
                                        ends.values().stream().filter("went on"::equals).count(),
                                        ends.values().stream().filter("stuck"::equals).count(),
                                        wrong.size()))
                .toString();
    }
}
