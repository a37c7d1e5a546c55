package calmstep.practice;

import calmstep.core.text.RejectedText;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import java.util.zip.CRC32;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.apache.sshd.server.SshServer;

/** A fleet of stand-ins, each on its own loopback address. */
public final class PracticeFleet implements AutoCloseable {

    private record Played(
            StandIn standIn,
            Port port,
            ConsoleLine console,
            Path folder,
            Labels labels,
            Stage stage) {}

    private final Map<String, Played> machines = new LinkedHashMap<>();
    private final Air air = new Air();
    private final List<SnmpPort> snmp = new ArrayList<>();
    private final List<SshServer> greeting = new ArrayList<>();

    PracticeFleet() {}

    /**
     * Writes every image that the fleet file describes into a folder; one that is there as
     * described stays.
     */
    public static void writeImages(Path fleetFile, Path folder) throws IOException {
        Files.createDirectories(folder);
        for (PracticeFleetText.PublishedFile file :
                PracticeFleetText.read(fleetFile.toString(), Files.readString(fleetFile))
                        .images()) {
            boolean written = file.image().isIn(folder);
            if (!written) {
                file.image().write(folder);
            }
            if (!file.archive().isEmpty()
                    && !(written && Files.exists(folder.resolve(file.archive())))) {
                archive(folder, file);
            }
        }
    }

    /**
     * As a maker packs it: the image beside a note, in a folder of its own. Stored, not deflated:
     * so the bytes are the same with every zip library.
     */
    private static void archive(Path folder, PracticeFleetText.PublishedFile file)
            throws IOException {
        try (ZipOutputStream zip =
                new ZipOutputStream(Files.newOutputStream(folder.resolve(file.archive())))) {
            String inner = file.archive().replace(".zip", "/");
            addTo(
                    zip,
                    inner + "read-me.txt",
                    "Holds %s.%n"
                            .formatted(file.image().fileName())
                            .getBytes(StandardCharsets.UTF_8));
            addTo(
                    zip,
                    inner + file.image().fileName(),
                    Files.readAllBytes(folder.resolve(file.image().fileName())));
        }
    }

    private static void addTo(ZipOutputStream zip, String name, byte[] bytes) throws IOException {
        ZipEntry entry = new ZipEntry(name);
        CRC32 crc = new CRC32();
        crc.update(bytes);
        entry.setTimeLocal(LocalDateTime.of(2026, 1, 1, 0, 0));
        entry.setMethod(ZipEntry.STORED);
        entry.setSize(bytes.length);
        entry.setCrc(crc.getValue());
        zip.putNextEntry(entry);
        zip.write(bytes);
        zip.closeEntry();
    }

    /**
     * Plays the fleet that a file describes.
     *
     * @param images folder of the images, see {@link #writeImages}
     * @param state folder for storage and what the machines keep; made when it is not there
     * @throws RejectedText when the file is wrong
     */
    public static PracticeFleet play(Path fleetFile, Path images, Path state) throws IOException {
        return play(fleetFile, images, state, Optional.empty());
    }

    /** As {@link #play(Path, Path, Path)}, at another pace than the file's. */
    public static PracticeFleet play(
            Path fleetFile, Path images, Path state, Optional<Integer> otherPace)
            throws IOException {
        PracticeFleet fleet = new PracticeFleet();
        try {
            fleet.join(fleetFile, images, state, otherPace);
            return fleet;
        } catch (IOException | RuntimeException failed) {
            fleet.close();
            throw failed;
        }
    }

    void join(Path fleetFile, Path images, Path state, Optional<Integer> otherPace)
            throws IOException {
        var description = PracticeFleetText.read(fleetFile.toString(), Files.readString(fleetFile));
        for (MachineDescription one : description.machines()) {
            play(
                    one,
                    Labels.NONE,
                    new Stage(
                            images,
                            state,
                            otherPace.orElse(description.pace()),
                            description.sshPort(),
                            description.consolePort(),
                            description.httpsPort(),
                            Optional.empty()));
            showBySnmp(
                    one.snmp(),
                    one.address(),
                    description.snmp(),
                    () -> played(one.name()).standIn().shown(),
                    objects(one.name()));
        }
        for (Acquaintance one : description.acquaintances()) {
            showBySnmp(
                    one.snmp(),
                    one.address(),
                    description.snmp(),
                    () -> Optional.of(one.shown()),
                    Optional.empty());
            if (!one.greeting().isEmpty()) {
                SshServer server =
                        SshPort.server(
                                one.address(),
                                description.sshPort(),
                                Files.createDirectories(state).resolve("host-key-" + one.address()),
                                one.greeting());
                server.start();
                greeting.add(server);
            }
        }
    }

    /**
     * Where stand-ins are played.
     *
     * @param images folder of the images that lie on their storage at first
     * @param state folder for their storage and what they keep
     * @param pace how much faster than ours their clocks run
     * @param snmpPort where families answer that are spoken to over SNMP alone, to version 2c with
     *     their password; empty where a fleet file says how
     */
    public record Stage(
            Path images,
            Path state,
            int pace,
            int sshPort,
            int consolePort,
            int httpsPort,
            Optional<Integer> snmpPort) {}

    /** Whether there is a stand-in that speaks as a family does. */
    public static boolean plays(String family) {
        return StackManner.of(family).isPresent() || Single.Manner.of(family).isPresent();
    }

    /** Plays machines that no fleet file describes, such as those of a rehearsal. */
    public static PracticeFleet of(List<MachineDescription> machines, Labels labels, Stage stage)
            throws IOException {
        PracticeFleet fleet = new PracticeFleet();
        try {
            for (MachineDescription one : machines) {
                fleet.play(one, labels, stage);
            }
            return fleet;
        } catch (IOException | RuntimeException failed) {
            fleet.close();
            throw failed;
        }
    }

    /**
     * Makes an image of ours where the maker's is not at hand: another one of the same name and
     * size that starts the same release.
     *
     * @param part which of the parts that belong together it is; empty for one that is whole
     * @param boards firmware that it hands to the board of its machine; empty for none
     */
    public static void makeImage(
            Path folder,
            String fileName,
            String family,
            String version,
            List<String> revisions,
            long sizeBytes,
            String part,
            String boards) {
        new PracticeImage(
                        fileName,
                        family,
                        "system",
                        version,
                        revisions,
                        "0",
                        Math.clamp(sizeBytes, 2 * PracticeImage.HEADER_BYTES, Integer.MAX_VALUE),
                        part,
                        PracticeImage.Rules.UNKNOWN.holding(boards))
                .write(folder);
    }

    private void play(MachineDescription one, Labels labels, Stage stage) throws IOException {
        Path folder = Files.createDirectories(stage.state().resolve(one.name()));
        putUp(one, labels, stage, folder);
        Played played = played(one.name());
        stage.snmpPort()
                .filter(_ -> one.family().equals(SkeldaObjects.FAMILY))
                .ifPresent(
                        snmpPort ->
                                showBySnmp(
                                        "v2c",
                                        one.address(),
                                        new SnmpPort.Access(snmpPort, one.password(), "", "", ""),
                                        () -> played(one.name()).standIn().shown(),
                                        objects(one.name())));
        played.standIn().switchOn();
    }

    private void putUp(MachineDescription one, Labels labels, Stage stage, Path folder) {
        StandIn standIn = StandIn.of(one, labels, folder, stage);
        one.faults().forEach(standIn::add);
        Port port = port(standIn, stage, folder);
        switchWith(standIn, port);
        machines.put(
                one.name(),
                new Played(
                        standIn,
                        port,
                        new ConsoleLine(standIn, stage.consolePort()),
                        folder,
                        labels,
                        stage));
    }

    private static void switchWith(StandIn standIn, Port port) {
        standIn.listen(
                answers -> {
                    if (answers) {
                        port.open();
                    } else {
                        port.close();
                    }
                });
    }

    /**
     * Puts another box in the place of a machine that stands alone: its address and login are known
     * to it, and nothing else.
     *
     * @param runs the image that lies on its storage, of the images folder
     */
    public void replace(String name, String serial, String runs) {
        Played old = played(name);
        if (!(old.standIn() instanceof Single(Machine _, Single.Manner manner))
                || manner == Single.Manner.SKELDA) {
            throw new IllegalArgumentException(
                    "%s is not a box that stands alone at a line of its own; only such a one is replaced here."
                            .formatted(name));
        }
        mustBeThere(runs, old.stage().images());
        old.port().close();
        old.standIn().close();
        old.console().close();
        putUpAnother(old, serial, runs, name);
        played(name).standIn().switchOn();
    }

    /** Puts another box in the place of one of several that answer as one. */
    public void replaceMember(String name, int number, String serial, String runs) {
        if (!(played(name).standIn() instanceof Stack stack)) {
            throw new IllegalArgumentException("%s has no members.".formatted(name));
        }
        stack.replace(number, serial, runs);
    }

    static void mustBeThere(String image, Path images) {
        if (!Files.exists(images.resolve(image))) {
            throw new IllegalArgumentException("No image %s here.".formatted(image));
        }
    }

    private void putUpAnother(Played old, String serial, String runs, String name) {
        try {
            putUp(
                    old.standIn().description().replacedBy(serial, runs),
                    old.labels(),
                    old.stage(),
                    Files.createDirectories(old.stage().state().resolve(name + "-" + serial)));
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    private static Port port(StandIn standIn, Stage stage, Path folder) {
        return switch (standIn) {
            case Single(Machine machine, Single.Manner manner)
                    when manner == Single.Manner.WENDING ->
                    new WendingWeb(machine, stage.httpsPort(), folder.resolve("certificate.pem"));
            case Single(Machine _, Single.Manner manner) when manner == Single.Manner.SKELDA ->
                    Port.NONE;
            default -> new SshPort(standIn, stage.sshPort(), folder.resolve("host-key"));
        };
    }

    private Optional<SnmpPort.Objects> objects(String name) {
        return played(name).standIn() instanceof Single(Machine machine, Single.Manner manner)
                        && manner == Single.Manner.SKELDA
                ? Optional.of(new SkeldaObjects(machine, air))
                : Optional.empty();
    }

    private void showBySnmp(
            String version,
            String address,
            SnmpPort.Access access,
            Supplier<Optional<SnmpPort.Shown>> shown,
            Optional<SnmpPort.Objects> objects) {
        if (!version.equals("none")) {
            snmp.add(new SnmpPort(address, access, version.equals("v3"), shown, objects));
        }
    }

    /** Names of all that play. */
    Set<String> names() {
        return machines.keySet();
    }

    private Played played(String name) {
        return Optional.ofNullable(machines.get(name))
                .orElseThrow(
                        () ->
                                new IllegalArgumentException(
                                        "No machine %s here; known: %s"
                                                .formatted(name, machines.keySet())));
    }

    /** The machine of that name; of a stack the member that leads. */
    public Machine machine(String name) {
        return switch (played(name).standIn()) {
            case Single(Machine machine, var _) -> machine;
            case Stack stack -> stack.leader();
        };
    }

    /** As units that were put in its place: none of its licences is there. */
    public void forgetLicences(String name) {
        switch (played(name).standIn()) {
            case Single(Machine machine, var _) -> machine.licences().loseAll();
            case Stack stack -> stack.whole().forEach(machine -> machine.licences().loseAll());
        }
    }

    /**
     * A member of a stack.
     *
     * @param number counted from 1
     */
    public Machine member(String name, int number) {
        return played(name).standIn() instanceof Stack stack ? stack.member(number) : machine(name);
    }

    /** The folder that is the storage of a machine, or of the member that leads. */
    public Path storage(String name) {
        return machine(name).flash().file("");
    }

    /**
     * Somebody leaves a file on a machine, or on the member that leads.
     *
     * @throws IllegalArgumentException where it is no name of a file, or does not fit
     */
    public void leave(String name, String file, long bytes) {
        Flash flash = machine(name).flash();
        if (!file.matches("[\\w][\\w.-]*") || bytes > flash.freeBytes()) {
            throw new IllegalArgumentException(
                    "Expected the name of a file, and at most %s bytes; saw %s with %s."
                            .formatted(flash.freeBytes(), file, bytes));
        }
        try {
            Files.write(flash.file(file), new byte[Math.toIntExact(bytes)]);
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    /**
     * How far a copy to a machine comes that a fault happens to.
     *
     * @param percent 50 unless somebody says another one
     */
    public void troubleAt(String name, int percent) {
        switch (played(name).standIn()) {
            case Single(Machine machine, var _) -> machine.troubleAt(percent);
            case Stack stack -> stack.members().forEach(member -> member.troubleAt(percent));
        }
    }

    /** Somebody pulls the plug of a member and puts it back. */
    public void powerCycle(String name, int number) {
        member(name, number).powerCycle();
    }

    /** Whether it does something that takes its time on its own clock. */
    public boolean isBusy(String name) {
        return played(name).standIn().isBusy();
    }

    public void add(String name, Fault fault) {
        Played played = played(name);
        played.standIn().add(fault);
        if (fault == Fault.ANSWERS_NOBODY) {
            played.port().close();
        }
    }

    /** It misbehaves no more. */
    public void clearFaults(String name) {
        played(name).standIn().clearFaults();
        if (machine(name).power() == Machine.Power.RUNNING) {
            played(name).port().open();
        }
    }

    /** The machine shows another host key from now on, as one that was replaced would. */
    public void changeHostKey(String name) {
        Played played = played(name);
        played.port().useOtherKey(played.folder().resolve("host-key-" + System.nanoTime()));
    }

    /** Takes a machine off the network, or puts it back. */
    public void unplug(String name, boolean unplugged) {
        Played played = played(name);
        if (unplugged) {
            played.port().close();
        } else {
            played.port().open();
        }
    }

    @Override
    public void close() {
        machines.values()
                .forEach(
                        played -> {
                            played.standIn().close();
                            played.console().close();
                        });
        snmp.forEach(SnmpPort::close);
        for (SshServer server : greeting) {
            try {
                server.stop(true);
            } catch (IOException alreadyGone) {
                // It is gone already, which is what closing is for.
            }
        }
    }

    /** By name, whether a machine serves nobody just now. */
    public Map<String, Boolean> dark() {
        Map<String, Boolean> dark = new LinkedHashMap<>();
        machines.keySet()
                .forEach(name -> dark.put(name, machine(name).power() != Machine.Power.RUNNING));
        return dark;
    }
}
