package calmstep.core.plan;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Dependents;
import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Release;
import calmstep.core.fleet.Ailment;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Discrepancy;
import calmstep.core.fleet.Part;
import calmstep.core.fleet.Reading;
import calmstep.core.order.RollingMove;
import calmstep.core.order.RollingOrder;
import calmstep.core.order.UnitOrder;
import calmstep.core.path.Hop;
import calmstep.core.path.Path;
import calmstep.core.path.PathAnswer;
import calmstep.core.room.RoomAhead;
import calmstep.core.step.StepName;
import calmstep.core.step.UnitPlan;
import calmstep.core.step.UnitPlan.HopPlan;
import calmstep.core.version.Version;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.stream.Collectors;

/** Drafts a plan for a selection of devices. Collects every finding; never stops at the first. */
public final class PlanDrafting {
    private static final Duration FRESH = Duration.ofHours(24);

    private final Target target;
    private final WayWanted way;
    private final PathBook book;
    private final Instant now;
    private final List<UnitPlan> units = new ArrayList<>();
    private final List<Finding> findings = new ArrayList<>();

    private PlanDrafting(Target target, WayWanted way, Instant now) {
        this.target = target;
        this.way = way;
        this.book = new PathBook(way.prefer(), LocalDate.ofInstant(now, ZoneOffset.UTC));
        this.now = now;
    }

    public static Draft draft(Target target, WayWanted way, List<Subject> subjects, Instant now) {
        PlanDrafting drafting = new PlanDrafting(target, way, now);
        subjects.stream()
                .sorted(Comparator.comparing(s -> s.device().name()))
                .forEach(drafting::add);
        drafting.findings.sort(Comparator.comparing(Finding::severity).thenComparing(Finding::key));
        return new Draft(drafting.units, drafting.findings);
    }

    private void add(Subject subject) {
        Device device = subject.device();
        inspectWhatIsKnown(subject, device);
        subject.reading()
                .map(reading -> Discrepancy.of(subject.written(), reading))
                .filter(discrepancies -> !discrepancies.isEmpty())
                .ifPresent(some -> found(device, new Concern.NotAsWritten(some)));
        SortedMap<String, String> runs = device.runs(subject.reading());
        if (subject.catalogue().isPresent() && !runs.isEmpty()) {
            addPath(subject, subject.catalogue().get(), runs);
        }
    }

    private void inspectWhatIsKnown(Subject subject, Device device) {
        if (!subject.hasSecret()) {
            found(device, new Concern.LoginWithoutSecret(String.join(", ", device.logins())));
        }
        if (subject.catalogue().isEmpty()) {
            found(device, new Concern.NoCatalogue(device.family()));
        }
        if (subject.reading().isEmpty()) {
            found(device, new Concern.NeverRead());
        }
    }

    private void found(Device device, Concern concern) {
        findings.add(concern.about(device.name()));
    }

    /**
     * @param runs release by component, as it was read, or as the inventory has it where it never
     *     was
     */
    private void addPath(Subject subject, Catalogue catalogue, SortedMap<String, String> runs) {
        Device device = subject.device();
        PathBook.Entry entry;
        try {
            entry = book.look(device, runs, catalogue, target);
        } catch (IllegalArgumentException _) {
            entry = PathBook.Entry.NONE;
        }
        if (entry.answer().isEmpty()) {
            found(device, new Concern.NoTarget(target.words()));
            return;
        }
        addAnswer(entry, device, subject, catalogue);
    }

    private void addAnswer(
            PathBook.Entry entry, Device device, Subject subject, Catalogue catalogue) {
        switch (entry.answer().get()) {
            case PathAnswer.AlreadyThere(String running) ->
                    found(device, new Concern.AlreadyThere(running));
            case PathAnswer.Refused(var obstacles, var highest) ->
                    found(
                            device,
                            new Concern.NoPath(
                                    entry.wanted().map(Version::text).orElse(target.words()),
                                    obstacles,
                                    highest));
            case PathAnswer.Found(Path best, var others) ->
                    addUnit(subject, catalogue, chosen(device, best, others));
        }
    }

    private Path chosen(Device device, Path best, List<Path> others) {
        if (way.alternative() == 0) {
            return best;
        }
        if (way.alternative() > others.size()) {
            found(device, new Concern.NoSuchAlternative(way.alternative()));
            return best;
        }
        return others.get(way.alternative() - 1);
    }

    private void addUnit(Subject subject, Catalogue catalogue, Path path) {
        Device device = subject.device();
        subject.reading().ifPresent(reading -> inspectReading(device, reading));
        device.wiring()
                .fedBy()
                .filter(_ -> !subject.can().feeds())
                .ifPresent(base -> found(device, new Concern.CannotBeFed(base)));
        device.way()
                .medium()
                .filter(_ -> !subject.can().takesFromMedium())
                .ifPresent(medium -> found(device, new Concern.MediumOfNoUse(medium)));
        Set<String> known =
                catalogue.releases().stream()
                        .flatMap((Release r) -> r.images().stream())
                        .map(FirmwareImage::fileName)
                        .collect(Collectors.toSet());
        inspectPath(subject, path);
        Ventures.of(device, device.runs(subject.reading()), catalogue, subject.can(), path)
                .forEach(concern -> found(device, concern));
        Optional<RoomAhead> room =
                subject.reading().map(reading -> inspectRoom(device, reading, path, known));
        Set<Integer> ahead =
                room.filter(_ -> device.wiring().fedBy().isEmpty())
                        .map(RoomAhead::ahead)
                        .orElse(Set.of());
        List<HopPlan> hops = hops(subject, catalogue, path, ahead);
        units.add(
                new UnitPlan(
                        device.name(),
                        device.site(),
                        device.address(),
                        subject.reading().map(Reading::takenAt),
                        device.serial(),
                        device.hardware(),
                        subject.reading().map(Reading::configurationSha256).orElse(""),
                        false,
                        device.serves(),
                        catalogue.giveUpAfter(),
                        catalogue.bytesPerSecond(),
                        new UnitPlan.Supply(device.wiring().fedBy(), device.way().medium()),
                        known,
                        room.map(RoomAhead::inTheWay).orElse(Set.of()),
                        Set.of(),
                        hops));
    }

    /**
     * @param ahead ordinals of those whose image is brought before the first gate
     */
    private List<HopPlan> hops(
            Subject subject, Catalogue catalogue, Path path, Set<Integer> ahead) {
        List<HopPlan> hops = new ArrayList<>();
        Optional<RollingMove.HandOver> back =
                way.roles() == WayWanted.Roles.AS_BEFORE
                        ? UnitOrder.of(subject.device(), catalogue, path)
                                .flatMap(RollingOrder::rolesBack)
                        : Optional.empty();
        for (Hop hop : path.hops()) {
            int ordinal = hops.size() + 1;
            UnitOrder.Restarts restarts =
                    UnitOrder.restarts(subject.device(), catalogue, path, hop)
                            .orElse(UnitOrder.Restarts.ofOne(hop));
            boolean last = ordinal == path.hops().size();
            Set<StepName> further = further(subject, catalogue, hop, restarts);
            if (last && back.isPresent()) {
                further.add(StepName.RESTORE_ROLES);
            }
            hops.add(
                    new HopPlan(
                            ordinal,
                            hop,
                            UnitPlan.stepsOf(hop, last, further),
                            restarts.atOnce(),
                            restarts.whole().toSeconds(),
                            restarts.dark()
                                    .plus(
                                            back.filter(_ -> last)
                                                    .map(RollingMove.HandOver::dark)
                                                    .orElse(Duration.ZERO))
                                    .toSeconds(),
                            ahead.contains(ordinal),
                            further.contains(StepName.RESTART_STANDBYS)
                                    ? restarts.standbys().toSeconds()
                                    : 0));
        }
        return hops;
    }

    /**
     * What is drained is so before it disturbs anybody: the active member of a unit before it hands
     * over; a device that stands in for others, and they for it, before it restarts. Where nobody
     * could take the traffic over, nothing is drained.
     */
    private static Set<StepName> further(
            Subject subject, Catalogue catalogue, Hop hop, UnitOrder.Restarts restarts) {
        Set<StepName> further = EnumSet.noneOf(StepName.class);
        if (preLoads(subject, catalogue, hop)) {
            further.add(StepName.PRE_LOAD);
        }
        if (subject.can().drains() && hop.restarts() > 0) {
            if (restarts.handsOver()) {
                further.add(StepName.RESTART_STANDBYS);
            }
            if (restarts.handsOver()
                    || (restarts.atOnce() == 0
                            && !subject.device().wiring().redundancy().isEmpty())) {
                further.addAll(EnumSet.of(StepName.DRAIN, StepName.UN_DRAIN));
            }
        }
        return further;
    }

    private static boolean preLoads(Subject subject, Catalogue catalogue, Hop hop) {
        return hop.component().equals(Catalogue.SYSTEM)
                && subject.can().preLoads()
                && catalogue.dependents().flatMap(Dependents::preLoad).isPresent()
                && subject.device().parts().stream()
                        .anyMatch(part -> part.kind() == Part.Kind.DEPENDENT);
    }

    private void inspectReading(Device device, Reading reading) {
        Duration age = Duration.between(reading.takenAt(), now);
        if (age.compareTo(FRESH) > 0) {
            found(device, new Concern.ReadLongAgo(age));
        }
        Ailment.of(reading, now).forEach(ailment -> found(device, new Concern.Unwell(ailment)));
        if (reading.unsavedChanges()) {
            found(device, new Concern.UnsavedChanges());
        }
        if (!reading.boot().saved()) {
            found(device, new Concern.BootChoiceNotSaved(reading.boot().next()));
        } else if (!reading.boot().next().equals(reading.boot().running())) {
            found(
                    device,
                    new Concern.NextIsNotRunning(reading.boot().running(), reading.boot().next()));
        }
    }

    private void inspectPath(Subject subject, Path path) {
        Device device = subject.device();
        for (Hop hop : path.hops()) {
            if (!hop.why().isEmpty()) {
                found(device, new Concern.SteppingStone(hop.to(), hop.why()));
            }
            boolean rolls = rolls(subject, device, path, hop);
            whatNoRunDoes(hop, subject.can(), rolls)
                    .ifPresent(what -> found(device, new Concern.NotYetCarriedOut(hop.to(), what)));
            inspectImages(hop, subject, device);
            hop.toKnow().forEach(text -> found(device, new Concern.ToKnow(hop.to(), text)));
        }
    }

    private static boolean rolls(Subject subject, Device device, Path path, Hop hop) {
        boolean rolls =
                subject.catalogue()
                        .map(
                                catalogue ->
                                        UnitOrder.restarts(device, catalogue, path, hop)
                                                        .map(UnitOrder.Restarts::atOnce)
                                                        .orElse(0)
                                                > 0)
                        .orElse(false);
        return rolls;
    }

    private void inspectImages(Hop hop, Subject subject, Device device) {
        hop.images().stream()
                .filter(image -> !subject.shelf().contains(image.fileName()))
                .forEach(
                        image ->
                                found(
                                        device,
                                        new Concern.ImageNotOnShelf(image.fileName(), hop.to())));
    }

    /**
     * The steps stage, choose and start one image with one restart, or hand a component its own;
     * more than that, or than the family's dialect can, must not be begun.
     */
    private static Optional<String> whatNoRunDoes(Hop hop, Abilities can, boolean rolls) {
        if (!hop.component().equals(Catalogue.SYSTEM)
                && !can.installs().contains(hop.component())) {
            return Optional.of("it moves " + hop.component());
        }
        if (rolls && !can.restartsMembers()) {
            return Optional.of("members restart one after the other");
        }
        if ((hop.restarts() > 1 && !hop.restartsForBoards())
                || (hop.restarts() == 0 && hop.component().equals(Catalogue.SYSTEM))) {
            return Optional.of("it takes %s restarts".formatted(hop.restarts()));
        }
        return hop.configuration() == Effect.Configuration.WIPED && !can.putsBack()
                ? Optional.of("it wipes the configuration")
                : Optional.empty();
    }

    private RoomAhead inspectRoom(Device device, Reading reading, Path path, Set<String> known) {
        RoomAhead ahead = RoomAhead.of(reading, path.hops(), known);
        if (!ahead.removed().isEmpty()) {
            found(device, new Concern.ImagesWillGo(ahead.removed()));
        }
        ahead.firstShort().ifPresent(tight -> tell(device, tight));
        return ahead;
    }

    private void tell(Device device, RoomAhead.Tight tight) {
        String file = tight.hop().image().fileName();
        found(
                device,
                tight.inTheWay().isEmpty()
                        ? new Concern.ShortOfRoom(
                                file, tight.hop().step(), tight.missingBytes(), tight.unknown())
                        : new Concern.InTheWay(file, tight.hop().step(), tight.inTheWay()));
    }
}
