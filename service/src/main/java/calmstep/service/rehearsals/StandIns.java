package calmstep.service.rehearsals;

import static calmstep.core.known.Known.known;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Reading;
import calmstep.core.forecast.Times;
import calmstep.core.step.UnitPlan;
import calmstep.core.version.Version;
import calmstep.dialect.Dialect;
import calmstep.dialect.Door;
import calmstep.dialect.Doors;
import calmstep.dialect.Secret;
import calmstep.dialect.SnmpLogin;
import calmstep.dialect.SshSecret;
import calmstep.dialect.Talk;
import calmstep.practice.Fault;
import calmstep.practice.Labels;
import calmstep.practice.MachineDescription;
import calmstep.practice.PracticeFleet;
import calmstep.service.backups.BackupStore;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import calmstep.service.rehearsals.Outcome.NotPlayed;
import calmstep.service.releases.Catalogues;
import calmstep.service.releases.Dialects;
import calmstep.service.runs.Rehearsing;
import calmstep.service.shelf.Shelf;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;

/** Makes stand-ins of devices from what was read of them. */
@Component
class StandIns {
    private static final String USER = "rehearsal";

    /** Loopback addresses that nothing else of ours uses, one a stand-in. */
    private static final String ADDRESSES = "127.88.%s.%s";

    private static final int ADDRESSES_A_BLOCK = 250;

    private final Fleet fleet;
    private final Catalogues catalogues;
    private final Dialects dialects;
    private final BackupStore backups;
    private final Shelf shelf;
    private final Doors doors;
    private final Clock clock;

    StandIns(
            Fleet fleet,
            Catalogues catalogues,
            Dialects dialects,
            BackupStore backups,
            Shelf shelf,
            Doors doors,
            Clock clock) {
        this.fleet = fleet;
        this.catalogues = catalogues;
        this.dialects = dialects;
        this.backups = backups;
        this.shelf = shelf;
        this.doors = doors;
        this.clock = clock;
    }

    /**
     * Stand-ins that are up.
     *
     * @param units as the plan has them, at their stand-ins' addresses and as those show themselves
     */
    record Up(PracticeFleet machines, Rehearsing.StandIns standIns, List<UnitPlan> units)
            implements AutoCloseable {
        @Override
        public void close() {
            machines.close();
        }
    }

    /** Why there is no stand-in for a unit; empty where there is one. */
    Optional<NotPlayed> whyNot(UnitPlan unit) {
        Fleet.Known known = fleet.require(unit.device());
        String family = known.device().family();
        Optional<String> base =
                unit.supply().fedBy().filter(feeder -> fleet.require(feeder).reading().isEmpty());
        if (base.isPresent()) {
            return Optional.of(
                    new NotPlayed(
                            unit.device(),
                            "%s, which sends it its files, was never read".formatted(base.get())));
        }
        if (known.reading().isEmpty()) {
            return Optional.of(
                    new NotPlayed(
                            unit.device(),
                            "it was never read, and a stand-in is made from a reading"));
        }
        if (!PracticeFleet.plays(family) || !dialects.families().contains(family)) {
            return Optional.of(
                    new NotPlayed(
                            unit.device(), "no stand-in speaks as %s does".formatted(family)));
        }
        return unit.hops().stream()
                .map(h -> h.hop().component())
                .filter(
                        component ->
                                !component.equals(Catalogue.SYSTEM)
                                        && !dialects.can(family).installs().contains(component))
                .findFirst()
                .map(
                        component ->
                                new NotPlayed(
                                        unit.device(),
                                        "its stand-in has no %s of its own".formatted(component)));
    }

    /**
     * Puts stand-ins up.
     *
     * @param units for each of which there is one
     * @param folder for their storage
     */
    Up of(List<UnitPlan> units, List<AskedFault> faults, Times times, int pace, Path folder)
            throws IOException {
        Path images = Files.createDirectories(folder.resolve("images"));
        List<UnitPlan> all = Stream.concat(units.stream(), besides(units)).toList();
        mustHaveRoom(all, folder);
        String password = UUID.randomUUID().toString();
        Map<String, MachineDescription> machines = new LinkedHashMap<>();
        for (UnitPlan unit : all) {
            machines.put(
                    unit.device(),
                    machine(
                            unit,
                            ADDRESSES.formatted(
                                    machines.size() / ADDRESSES_A_BLOCK,
                                    machines.size() % ADDRESSES_A_BLOCK + 1),
                            password,
                            times,
                            images));
        }
        PracticeFleet.Stage stage =
                new PracticeFleet.Stage(
                        images,
                        folder.resolve("machines"),
                        pace,
                        freePort(),
                        freePort(),
                        freePort(),
                        Optional.of(freePort()));
        PracticeFleet playing =
                PracticeFleet.of(List.copyOf(machines.values()), labels(all), stage);
        Rehearsing.StandIns standIns =
                new Rehearsing.StandIns(
                        (unit, talk) -> door(known(machines, unit), stage, talk),
                        unit -> known(machines, unit).address(),
                        pace,
                        playing::isBusy);
        try {
            List<UnitPlan> asTheyAre =
                    units.stream()
                            .map(unit -> asItIs(unit, known(machines, unit.device()), stage))
                            .toList();
            units.forEach(
                    unit ->
                            faults.stream()
                                    .filter(asked -> asked.means(unit.device(), unit.site()))
                                    .forEach(
                                            asked ->
                                                    playing.add(
                                                            unit.device(),
                                                            Fault.parse(asked.fault()))));
            return new Up(playing, standIns, asTheyAre);
        } catch (RuntimeException failed) {
            playing.close();
            throw failed;
        }
    }

    /** The bases that feed units of the plan and do not change themselves: they stand by. */
    private Stream<UnitPlan> besides(List<UnitPlan> units) {
        Set<String> change = units.stream().map(UnitPlan::device).collect(Collectors.toSet());
        return units.stream()
                .flatMap(unit -> baseBesides(unit, change))
                .collect(
                        Collectors.toMap(
                                UnitPlan::device,
                                base -> base,
                                (one, _) -> one,
                                LinkedHashMap::new))
                .values()
                .stream();
    }

    private Stream<UnitPlan> baseBesides(UnitPlan unit, Set<String> change) {
        return unit
                .supply()
                .fedBy()
                .filter(base -> !change.contains(base))
                .map(base -> unit.standingBy(base, fleet.require(base).device().site()))
                .stream();
    }

    private void mustHaveRoom(List<UnitPlan> units, Path folder) throws IOException {
        long needed = units.stream().mapToLong(unit -> bytesOf(unit)).sum();
        long there = Files.getFileStore(folder).getUsableSpace();
        if (needed > there) {
            throw Refusal.conflict(
                    String.format(
                            Locale.ROOT,
                            "The stand-ins of this plan need %,d bytes of storage, and %s has %,d"
                                    + " left. Make room there, or rehearse a smaller plan.",
                            needed,
                            folder,
                            there));
        }
    }

    private long bytesOf(UnitPlan unit) {
        return 2
                        * reading(unit).imageVolumes().stream()
                                .mapToLong(v -> v.sizeBytes() - v.freeBytes())
                                .sum()
                + Math.max(1, reading(unit).members().size())
                        * unit.hops().stream().mapToLong(h -> h.hop().bytes()).sum();
    }

    private Reading reading(UnitPlan unit) {
        return fleet.require(unit.device()).reading().orElseThrow();
    }

    private MachineDescription machine(
            UnitPlan unit, String address, String password, Times times, Path images) {
        Reading reading = reading(unit);
        var device = fleet.require(unit.device()).device();
        List<String> files = new ArrayList<>();
        Map<String, Long> others = new TreeMap<>();
        reading.imageVolume()
                .ifPresent(
                        volume ->
                                volume.files()
                                        .forEach(
                                                file ->
                                                        sortFile(
                                                                file, device, reading, images,
                                                                files, others)));
        Map<String, Duration> startsWith = Likeness.startTimes(unit, device, reading, times);
        Duration usual =
                startsWith.values().stream().max(Duration::compareTo).orElse(Duration.ofMinutes(4));
        return new MachineDescription(
                unit.device(),
                device.family(),
                address,
                reading.identity().model(),
                reading.identity().revision(),
                reading.identity().serial(),
                USER,
                password,
                reading.imageVolume().map(Reading.Volume::sizeBytes).orElse(0L),
                files,
                others,
                reading.boot().running(),
                reading.boot().fallback(),
                usual,
                unit.bytesPerSecond(),
                settings(unit.device()),
                reading.unsavedChanges()
                        ? List.of("note \"a change that nobody saved\"")
                        : List.of(),
                Likeness.facts(reading, "interface"),
                Likeness.facts(reading, "neighbour"),
                Set.of(),
                "none",
                startsWith,
                Likeness.facts(reading, "partner"),
                Likeness.members(reading, catalogues.find(device.family())),
                Likeness.outfit(reading, unit, catalogues.find(device.family())));
    }

    private void sortFile(
            Reading.StoredFile file,
            Device device,
            Reading reading,
            Path images,
            List<String> files,
            Map<String, Long> others) {
        if (prepareImage(file, device.family(), reading, images)) {
            files.add(file.name());
        } else {
            others.put(file.name(), file.sizeBytes());
        }
    }

    /**
     * @return whether the file is an image, which is in the folder then: the shelf's, or one made
     *     in its place
     */
    private boolean prepareImage(
            Reading.StoredFile file, String family, Reading reading, Path images) {
        Path image = images.resolve(file.name());
        Optional<String> release =
                catalogues
                        .find(family)
                        .flatMap(c -> c.findImage(file.name()))
                        .map(published -> published.release().version().text());
        boolean boots = reading.boot().isProtected(file.name());
        if (Files.exists(image)) {
            return true;
        }
        if (release.isEmpty() && !boots) {
            return false;
        }
        try {
            if (shelf.has(file.name())
                    && Files.size(shelf.fileOf(file.name())) == file.sizeBytes()) {
                Files.copy(shelf.fileOf(file.name()), image);
            } else {
                boolean runs =
                        Reading.BootChoice.filesOf(reading.boot().running()).contains(file.name());
                PracticeFleet.makeImage(
                        images,
                        file.name(),
                        family,
                        runs ? reading.system() : release.orElse(reading.system()),
                        List.of(reading.identity().revision()),
                        file.sizeBytes(),
                        partOf(file.name(), family, reading),
                        boardsOf(file.name(), family));
            }
            return true;
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    /** Firmware that the release brings for its board. */
    private String boardsOf(String file, String family) {
        return catalogues
                .find(family)
                .flatMap(c -> c.findImage(file))
                .flatMap(
                        published ->
                                Optional.ofNullable(
                                        published.release().brings().get(Likeness.BOARD)))
                .map(Version::text)
                .orElse("");
    }

    /**
     * As its catalogue says; where that does not know the file, by its place in the choice that it
     * is a part of.
     */
    private String partOf(String file, String family, Reading reading) {
        return catalogues
                .find(family)
                .flatMap(c -> c.findImage(file))
                .map(published -> published.image().part())
                .orElseGet(() -> Likeness.partByPlace(reading, file));
    }

    private String settings(String device) {
        Dialect dialect = fleet.dialectOf(device);
        return backups.newestMasked(device)
                .map(
                        text ->
                                String.join(
                                        "\n",
                                        ConfigurationComparison.settingsOf(
                                                text, dialect.volatileLines())))
                .filter(text -> !text.isBlank())
                .orElse("name " + device);
    }

    private Labels labels(List<UnitPlan> units) {
        return new Labels(
                units.stream()
                        .flatMap(
                                unit ->
                                        unit.hops().stream()
                                                .map(UnitPlan.HopPlan::hop)
                                                .flatMap(
                                                        hop ->
                                                                hop.images().stream()
                                                                        .map(
                                                                                image ->
                                                                                        new Labels
                                                                                                .Label(
                                                                                                image
                                                                                                        .sha256(),
                                                                                                fleet.require(
                                                                                                                unit
                                                                                                                        .device())
                                                                                                        .device()
                                                                                                        .family(),
                                                                                                hop
                                                                                                        .component(),
                                                                                                hop
                                                                                                        .to(),
                                                                                                List
                                                                                                        .of(
                                                                                                                reading(
                                                                                                                                unit)
                                                                                                                        .identity()
                                                                                                                        .revision()),
                                                                                                image
                                                                                                        .part()))))
                        .toList());
    }

    private Door door(MachineDescription machine, PracticeFleet.Stage stage, Talk talk) {
        Dialect dialect = dialects.require(machine.family());
        int port = portOf(dialect, stage);
        Secret secret =
                dialect.over() == Dialect.Carrier.SNMP
                        ? new SnmpLogin.Community(machine.password())
                        : new SshSecret.Password(machine.password());
        return doors.to(
                new Doors.Address(
                        machine.name(),
                        machine.address(),
                        port,
                        stage.consolePort(),
                        List.of(new Doors.Login(machine.user(), machine.user(), secret)),
                        ""),
                dialect,
                talk);
    }

    private static int portOf(Dialect dialect, PracticeFleet.Stage stage) {
        int port =
                switch (dialect.over()) {
                    case SSH -> stage.sshPort();
                    case HTTPS -> stage.httpsPort();
                    case SNMP -> stage.snmpPort().orElseThrow();
                };
        return port;
    }

    private UnitPlan asItIs(UnitPlan unit, MachineDescription machine, PracticeFleet.Stage stage) {
        try (Door door = door(machine, stage, Talk.NONE)) {
            return unit.at(
                    machine.address(),
                    clock.instant(),
                    door.session().read().configurationSha256());
        }
    }

    private static int freePort() throws IOException {
        try (ServerSocket any = new ServerSocket(0)) {
            return any.getLocalPort();
        }
    }
}
