package calmstep.core.step;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.BackupKind;
import calmstep.core.device.Backups;
import calmstep.core.device.DeviceDoor;
import calmstep.core.device.ImageSource;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.PartShown;
import calmstep.core.path.Hop;
import calmstep.core.step.UnitPlan.HopPlan;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Everything that a step sees.
 *
 * @param detour 0 for a step that was planned; from 1 for one that a person's word put in between
 * @param intent the intent that an earlier try of this step left
 * @param feeder the base that sends the unit its files; empty where it fetches them itself
 * @param restart the intent of the hop's restart; where boards restart on their own, of the order
 *     to do so
 * @param drained what became of its traffic for this hop
 * @param before the reading that the hop's check took; where it did not come that far, the one
 *     before
 * @param first the reading that the unit's very first check took: what it must still have when all
 *     is done
 * @param loads what a rescue brings into the device's memory; empty for every other step
 * @param now our clock
 * @param pace how much faster than ours the devices' clocks run: 1 for real devices, more for a
 *     practice fleet
 * @param around what stands around it
 * @param talk compares configurations as the family's dialect does
 */
public record Scene(
        UnitPlan unit,
        HopPlan hopPlan,
        int detour,
        DeviceDoor door,
        Optional<Feeder> feeder,
        Backups backups,
        ImageSource shelf,
        Optional<Intent> intent,
        Optional<Intent> restart,
        Drained drained,
        Optional<Reading> before,
        Optional<Reading> first,
        Optional<FirmwareImage> loads,
        Instant now,
        int pace,
        Around around,
        ConfigurationReader talk) {
    private static final Duration OBEYS_WITHIN = Duration.ofMinutes(2);

    /** Whether its traffic goes another way for our sake. */
    public enum Drained {
        NO,
        /** It was told to; that nothing goes over it any more is not proven, or was left out. */
        TOLD,
        PROVEN;

        private static final Set<StepName> DRAINING =
                EnumSet.of(StepName.DRAIN, StepName.RESTORE_ROLES);

        /**
         * Whichever of a hop's steps told it to go another way.
         *
         * @param ofHop the hop's records, in their order
         * @param isOrdered whether a step has given an order
         */
        public static Drained of(List<StepRecord> ofHop, Predicate<StepRecord> isOrdered) {
            boolean told =
                    ofHop.stream()
                            .filter(record -> DRAINING.contains(record.name()))
                            .anyMatch(isOrdered);
            boolean proven =
                    ofHop.stream()
                            .filter(record -> record.name() == StepName.DRAIN)
                            .map(StepRecord::state)
                            .reduce((_, last) -> last)
                            .filter(
                                    state ->
                                            state == StepState.DONE
                                                    || state == StepState.NOT_NEEDED)
                            .isPresent();
            return !told ? NO : proven ? PROVEN : TOLD;
        }
    }

    Hop hop() {
        return hopPlan.hop();
    }

    /** What is chosen: the image's file, or those of its parts. */
    String file() {
        return hop().images().stream()
                .map(FirmwareImage::fileName)
                .collect(Collectors.joining(BootChoice.PARTS));
    }

    /** The component that moves, where it is one beside the system. */
    Optional<String> otherComponent() {
        return Optional.of(hop().component())
                .filter(component -> !component.equals(Catalogue.SYSTEM));
    }

    /** Whether the next restart starts the hop's image, or takes it over. */
    boolean isChosen(Reading reading) {
        return otherComponent()
                .map(
                        component ->
                                boardsRestartAlone()
                                        ? boardsNotThere(reading).isEmpty()
                                        : file().equals(reading.waiting().get(component)))
                .orElse(BootChoice.isSame(reading.boot().next(), file()) && reading.boot().saved());
    }

    /**
     * What is started if the new image fails: what runs; where that came into memory alone, or is
     * the new image already, what ran when the hop began.
     */
    String fallback(Reading reading) {
        String running = reading.boot().running();
        boolean isNoWayBack = BootChoice.isSame(running, file()) || !isThere(running, reading);
        return before.map(b -> b.boot().running())
                .filter(_ -> otherComponent().isEmpty() && isNoWayBack)
                .filter(was -> isThere(was, reading) || !isThere(running, reading))
                .orElse(running);
    }

    private static boolean isThere(String files, Reading reading) {
        return BootChoice.filesOf(files).stream()
                .allMatch(
                        file ->
                                reading.imageVolumes().stream()
                                        .anyMatch(volume -> volume.find(file).isPresent()));
    }

    /** What the next restart does, in words. */
    String choice(Reading reading) {
        BootChoice boot = reading.boot();
        if (boardsRestartAlone()) {
            return Parts.shown(hop().component(), reading.boards(hop().component()));
        }
        return otherComponent()
                .map(component -> takesOver(component, reading))
                .orElse(
                        "next %s, fallback %s, %s"
                                .formatted(
                                        boot.next(),
                                        boot.fallback().isEmpty()
                                                ? "none"
                                                : BootChoice.isSame(boot.next(), boot.fallback())
                                                        ? "the same file: none"
                                                        : boot.fallback(),
                                        boot.saved() ? "saved" : "not saved"));
    }

    private static String takesOver(String component, Reading reading) {
        return reading.waiting().containsKey(component)
                ? "%s takes over %s at its next restart"
                        .formatted(component, reading.waiting().get(component))
                : "nothing waits for " + component;
    }

    /** What is to be so before the restart. */
    String wantedChoice() {
        return otherComponent()
                .map(
                        component ->
                                boardsRestartAlone()
                                        ? "each %s runs %s".formatted(component, hop().to())
                                        : "%s takes over %s at its next restart"
                                                .formatted(component, file()))
                .orElse("next %s, saved".formatted(file()));
    }

    /** What was backed up for this hop; where it was not reached, for the one before. */
    Optional<String> kept(BackupKind kind) {
        return Stream.iterate(hopPlan.ordinal(), hop -> hop > 0, hop -> hop - 1)
                .flatMap(hop -> newest(hop, kind).stream())
                .findFirst()
                .map(kept -> backups.readBack(kept));
    }

    /** What was backed up before the unit's first hop. */
    Optional<String> keptFirst(BackupKind kind) {
        return newest(1, kind).map(kept -> backups.readBack(kept));
    }

    /** A person may have had it backed up once more; what a step overwrote later is none. */
    private Optional<Backups.Kept> newest(int hop, BackupKind kind) {
        return backups.kept(hop).stream()
                .filter(kept -> kept.kind().equals(kind))
                .reduce((_, last) -> last);
    }

    /** Whether the hop moves boards that restart on their own while the device goes on. */
    boolean boardsRestartAlone() {
        return hop().restarts() == 0;
    }

    /** The boards that the hop moves and that do not serve on its release yet. */
    List<PartShown> boardsNotThere(Reading now) {
        return now.boards(hop().component()).stream()
                .filter(
                        board ->
                                !board.isInSync()
                                        || !board.runs(hop().component()).equals(hop().to()))
                .toList();
    }

    /** A reading, with what the checks of one's own show as facts of it. */
    Reading read() {
        Reading reading = door().session().read();
        return reading.with(around.checks().run(unit.device(), reading, door().session()));
    }

    /** How long ago its order was given, on the devices' clock; nothing where none was. */
    Duration sinceIntent() {
        return intent.map(order -> Duration.between(order.at(), now).multipliedBy(pace))
                .orElse(Duration.ZERO);
    }

    /** Whether an order was given so short a time ago that it may yet be carried out. */
    boolean mayStillObey() {
        return intent.isPresent() && sinceIntent().compareTo(OBEYS_WITHIN) < 0;
    }

    /** A duration of the devices' clocks in ours. */
    Duration paced(Duration duration) {
        return duration.dividedBy(pace);
    }

    /**
     * Compares two configurations as the family's dialect reads them: without volatile lines, with
     * secrets masked.
     */
    public interface ConfigurationReader {
        ConfigurationComparison compare(String before, String after);
    }
}
