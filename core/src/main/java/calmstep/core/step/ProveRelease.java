package calmstep.core.step;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.compare.Change;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.compare.ReadingComparison;
import calmstep.core.device.BackupKind;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.PartShown;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The release, the file that was started and the saved choice equal the plan; what else changed is
 * compared and kept.
 */
final class ProveRelease implements Step {
    /** How long interfaces and neighbours may take to come up before their absence is reported. */
    private static final Duration SETTLES_WITHIN = Duration.ofMinutes(5);

    /** The talk of the restart has them all. */
    private static final int COMPLAINTS_TOLD = 20;

    private static final int COMPLAINT_TOLD = 200;

    @Override
    public Looked look(Scene scene) {
        Reading reading = scene.read();
        Optional<Trouble> trouble = difference(scene, reading);
        if (trouble.isPresent()) {
            return new Looked.Impossible(trouble.get());
        }
        List<Change> changes = changes(scene, reading);
        List<String> cautions = cautions(scene, reading, changes);
        if (!cautions.isEmpty() && mayStillSettle(scene)) {
            return new Looked.NotYet(String.join("; ", cautions), Duration.ofMillis(500));
        }
        List<String> odd = Stream.concat(cautions.stream(), complaints(scene)).toList();
        Evidence evidence = evidence(scene, reading, changes, odd);
        return new Looked.Shown(
                expected(scene), seen(scene, reading, odd, evidence.configuration()), evidence);
    }

    /** What it said once, while it started, does not settle by waiting. */
    static Stream<String> complaints(Scene scene) {
        return scene.around().console().complaints().stream()
                .limit(COMPLAINTS_TOLD)
                .map(
                        said ->
                                said.length() > COMPLAINT_TOLD
                                        ? said.substring(0, COMPLAINT_TOLD) + " …"
                                        : said)
                .map("while it started, it said on its console line: %s"::formatted);
    }

    /**
     * What is different from what the hop's check saw, and what a person should look at of what is
     * different from the unit's very first check: what an earlier hop lost is lost all the same.
     */
    static List<Change> changes(Scene scene, Reading reading) {
        List<Change> ofHop = compared(scene.before(), reading);
        return Stream.concat(
                        ofHop.stream(),
                        compared(scene.first(), reading).stream()
                                .filter(change -> change.weight() == Change.Weight.CAUTION)
                                .filter(change -> ofHop.stream().noneMatch(change::isAbout)))
                .toList();
    }

    private static List<Change> compared(Optional<Reading> before, Reading reading) {
        return before.map(was -> ReadingComparison.of(was, reading)).orElse(List.of());
    }

    /** With the configuration as it is now, against the hop's backup. */
    static Evidence evidence(
            Scene scene, Reading reading, List<Change> changes, List<String> cautions) {
        Optional<String> now =
                scene.kept(BackupKind.RUNNING)
                        .map(_ -> scene.door().session().pullOff(BackupKind.RUNNING));
        Optional<ConfigurationComparison> configuration =
                compared(scene, scene.kept(BackupKind.RUNNING), now);
        Optional<ConfigurationComparison> sinceTheFirst =
                compared(scene, scene.keptFirst(BackupKind.RUNNING), now);
        return new Evidence(
                Optional.of(reading),
                changes,
                configuration,
                Stream.of(cautions.stream(), linesLost(configuration), linesLost(sinceTheFirst))
                        .flatMap(all -> all)
                        .distinct()
                        .toList());
    }

    private static Optional<ConfigurationComparison> compared(
            Scene scene, Optional<String> before, Optional<String> now) {
        return before.flatMap(was -> now.map(is -> scene.talk().compare(was, is)));
    }

    /** What a person should look at. */
    static List<String> cautions(Scene scene, Reading reading, List<Change> changes) {
        return Stream.of(
                        changes.stream()
                                .filter(c -> c.weight() == Change.Weight.CAUTION)
                                .filter(c -> !Members.isOfMissed(c, scene, reading))
                                .map(Change::sentence),
                        dependentsBehind(scene, reading),
                        Members.missed(scene, reading).stream())
                .flatMap(all -> all)
                .toList();
    }

    private static Stream<String> linesLost(Optional<ConfigurationComparison> configuration) {
        return configuration.stream()
                .flatMap(comparison -> comparison.dropped().stream())
                .map(line -> "configuration line dropped or rewritten: " + line);
    }

    static String odd(List<String> cautions) {
        return cautions.isEmpty() ? "" : "; look at: " + String.join("; ", cautions);
    }

    /** Those that serve, and still run something else than their controller. */
    private static Stream<String> dependentsBehind(Scene scene, Reading reading) {
        return scene.otherComponent().isPresent()
                ? Stream.of()
                : reading.dependents().stream()
                        .filter(
                                one ->
                                        one.isInSync()
                                                && !one.runs(Catalogue.SYSTEM).isEmpty()
                                                && !one.runs(Catalogue.SYSTEM)
                                                        .equals(scene.hop().to()))
                        .map(
                                one ->
                                        "dependent %s still runs %s"
                                                .formatted(one.name(), one.runs(Catalogue.SYSTEM)));
    }

    private static boolean mayStillSettle(Scene scene) {
        Duration settled = scene.paced(scene.hopPlan().restarts().plus(SETTLES_WITHIN));
        return scene.restart()
                .filter(r -> Duration.between(r.at(), scene.now()).compareTo(settled) < 0)
                .isPresent();
    }

    static Optional<Trouble> difference(Scene scene, Reading reading) {
        if (scene.otherComponent().isPresent()) {
            return componentDiffers(scene, reading, scene.otherComponent().get());
        }
        String wanted = scene.hop().to();
        if (!reading.system().equals(wanted)
                || !BootChoice.isSame(reading.boot().running(), scene.file())) {
            String old =
                    reading.system().equals(scene.hop().from())
                            ? "it came back on the old release %s"
                            : "it runs %s";
            return Optional.of(
                    new Trouble(
                            "it runs %s from %s".formatted(wanted, scene.file()),
                            (old + ", from %s")
                                    .formatted(reading.system(), reading.boot().running()),
                            "The device did not start the chosen image. Read its start-up messages;"
                                    + " the old release serves meanwhile."));
        }
        if (!BootChoice.isSame(reading.boot().next(), scene.file()) || !reading.boot().saved()) {
            return Optional.of(
                    new Trouble(
                            "next %s, saved".formatted(scene.file()),
                            "next %s, %s"
                                    .formatted(
                                            reading.boot().next(),
                                            reading.boot().saved() ? "saved" : "not saved"),
                            "It runs the new release from memory only; the next restart would undo"
                                    + " it. Save the choice and try again."));
        }
        List<Brought> behind =
                Brought.of(scene.hop())
                        .filter(one -> one.isShown(reading) && !one.runs(reading))
                        .toList();
        return behind.isEmpty()
                ? membersDiffer(scene, reading)
                : Optional.of(
                        new Trouble(
                                "%s, brought by %s"
                                        .formatted(String.join(", ", scene.hop().brings()), wanted),
                                Brought.seen(behind, reading),
                                "The system runs the new release, and its boards did not follow."
                                        + " Read its start-up messages; it serves meanwhile."));
    }

    private static Optional<Trouble> componentDiffers(
            Scene scene, Reading reading, String component) {
        List<PartShown> boards = scene.boardsNotThere(reading);
        if (!boards.isEmpty()) {
            return Optional.of(
                    new Trouble(
                            "each %s runs %s and serves".formatted(component, scene.hop().to()),
                            Parts.shown(component, boards),
                            "Look at the board's own lamp and at the device's messages. The other"
                                    + " boards serve."));
        }
        String runs = reading.components().getOrDefault(component, "");
        return runs.equals(scene.hop().to())
                ? membersDiffer(scene, reading)
                : notTaken(component, scene, runs, reading);
    }

    private static Optional<Trouble> notTaken(
            String component, Scene scene, String runs, Reading reading) {
        return Optional.of(
                new Trouble(
                        "its %s runs %s".formatted(component, scene.hop().to()),
                        "it runs %s%s"
                                .formatted(
                                        runs,
                                        reading.waiting().containsKey(component)
                                                ? "; %s still waits"
                                                        .formatted(reading.waiting().get(component))
                                                : ""),
                        "The device restarted and did not take the file over. Read its"
                                + " start-up messages; it serves as before."));
    }

    private static Optional<Trouble> membersDiffer(Scene scene, Reading reading) {
        List<String> out = Members.out(scene, reading);
        List<PartShown> others = Members.notOn(scene.hop().to(), scene, reading);
        if (!out.isEmpty()) {
            return Optional.of(Members.stayOut(out, reading, "its restart"));
        }
        return others.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        new Trouble(
                                "every member runs " + scene.hop().to(),
                                whatTheyRun(others, scene),
                                "Some members did not take the new release over. Read their"
                                        + " start-up messages; the unit serves meanwhile."));
    }

    private static String whatTheyRun(List<PartShown> others, Scene scene) {
        return others.stream()
                .map(
                        member ->
                                "member %s: %s"
                                        .formatted(
                                                member.name(),
                                                member.runs(scene.hop().component())))
                .collect(Collectors.joining("; "));
    }

    private static String expected(Scene scene) {
        return scene.otherComponent()
                .map(component -> "%s runs %s, nothing lost".formatted(component, scene.hop().to()))
                .orElse(
                        "runs %s from %s, choice saved, nothing lost"
                                .formatted(scene.hop().to(), scene.file()));
    }

    private static String seen(
            Scene scene,
            Reading reading,
            List<String> cautions,
            Optional<ConfigurationComparison> configuration) {
        String lines =
                configuration
                        .filter(c -> !c.isSame())
                        .map(
                                c ->
                                        "; configuration: %s lines dropped, %s added"
                                                .formatted(c.dropped().size(), c.added().size()))
                        .orElse("; configuration unchanged");
        String runs =
                scene.otherComponent()
                        .map(
                                component ->
                                        "%s runs %s"
                                                .formatted(
                                                        component,
                                                        reading.components().get(component)))
                        .orElse(
                                "runs %s from %s"
                                        .formatted(reading.system(), reading.boot().running()));
        return "%s%s%s%s"
                .formatted(
                        reading.members().isEmpty()
                                ? ""
                                : "each of %s members ".formatted(reading.members().size()),
                        runs,
                        lines,
                        odd(cautions));
    }
}
