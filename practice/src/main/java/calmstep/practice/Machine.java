package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Stream;

/**
 * A small machine. Its storage is a folder, what it keeps without power is a properties file beside
 * it; so it survives the process that plays it, which is to it what a power cut is to a router.
 */
public final class Machine implements AutoCloseable {
    /** What the machine is doing. */
    public enum Power {
        STARTING,
        RUNNING,
        IN_BOOT_LOADER,
        OFF
    }

    private static final OneThread TIMER = new OneThread("practice-clock");

    private final MachineDescription description;
    private final Labels labels;
    private final Flash flash;
    private final Firmware firmware;
    private final Path kept;
    private final int pace;
    private final Set<Fault> faults;
    private final Properties memory = new Properties();
    private final Licences licences;
    private final List<String> restarts = new ArrayList<>();
    private final Attachments attached;
    private final Optional<Loader> bootLoader;
    private Optional<PowerListener> listener = Optional.empty();
    private final Voice voice = new Voice();

    private Power power = Power.OFF;
    private Optional<PracticeImage> started = Optional.empty();
    private String runningImage = "";
    private String release = "";
    private List<String> settings = List.of();
    private String next = "";
    private String fallback = "";
    private boolean choiceKept = true;
    private boolean linkLost;
    private int troubleAt = 50;

    /** Nobody plays it any more: what was on its way to happen does not. */
    private boolean closed;

    private int copies;
    private Instant startedAt = Instant.EPOCH;
    private List<String> bootMessages = List.of();

    /** Told when the machine goes down or comes up; opens and closes its lines. */
    interface PowerListener {
        void powerIs(Power power);
    }

    Machine(MachineDescription description, Labels labels, Path folder, Path images, int pace) {
        this.description = description;
        this.labels = labels;
        this.flash = new Flash(folder.resolve("flash"), description.flashBytes());
        this.kept = folder.resolve("kept.properties");
        this.pace = pace;
        this.faults =
                description.faults().isEmpty()
                        ? EnumSet.noneOf(Fault.class)
                        : EnumSet.copyOf(description.faults());
        licences = new Licences(description.name(), description.outfit().licences(), memory);
        prepare(images);
        firmware = new Firmware(description, labels, flash, memory);
        attached = new Attachments(description.outfit().attached(), memory, this::keep, pace);
        bootLoader = Loader.of(this);
    }

    private void prepare(Path images) {
        try {
            if (Files.exists(kept)) {
                try (InputStream in = Files.newInputStream(kept)) {
                    memory.load(in);
                }
                return;
            }
            flash.prepare(description, images);
            rememberAsMade();
            keep();
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    private void rememberAsMade() {
        memory.setProperty("next", description.running());
        memory.setProperty("fallback", description.fallback());
        memory.setProperty("settings", description.settings());
        memory.setProperty(
                "settings-of",
                check(description.running().split(" \\+ ")[0]).image().orElseThrow().version());
        memory.setProperty("starts", "16");
        memory.setProperty("loader", description.members().loader());
        description.outfit().licences().forEach(licences::hold);
    }

    /**
     * Under a lock of its own: what hangs on the machine keeps things too, while somebody holds the
     * machine's.
     */
    private void keep() {
        try {
            synchronized (memory) {
                try (var out = Files.newOutputStream(kept)) {
                    memory.store(out, null);
                }
            }
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    synchronized void listen(PowerListener powerListener) {
        listener = Optional.of(powerListener);
    }

    /**
     * Switches it on; it answers at once the first time, so that a fleet is up when its process is.
     */
    synchronized void switchOn() {
        boot();
        if (power == Power.RUNNING) {
            settings =
                    Stream.concat(
                                    settings.stream(),
                                    description.unsaved().stream()
                                            .filter(line -> !settings.contains(line)))
                            .toList();
        }
    }

    private synchronized void boot() {
        if (closed) {
            return;
        }
        memory.setProperty("starts", String.valueOf(starts() + 1));
        firmware.takeOver();
        boolean stop = faults.remove(Fault.STOPS_IN_BOOT_LOADER);
        next = memory.getProperty("next");
        fallback = memory.getProperty("fallback");
        String first = faults.remove(Fault.STARTS_THE_OLD_IMAGE) ? fallback : next;
        linkLost = faults.remove(Fault.LOSES_A_LINK);
        choiceKept = true;
        BootLoader.Start start =
                BootLoader.start(
                        description,
                        labels,
                        flash.folder(),
                        first,
                        fallback,
                        memory.getProperty("settings-of"),
                        firmware.loader(),
                        stop);
        bootMessages = start.messages();
        bootMessages.forEach(voice::says);
        startedAt = Instant.now();
        started = start.image();
        start.image().ifPresent(image -> runs(image, image.fileName()));
        if (faults.remove(Fault.LOSES_A_LICENCE)) {
            licences.shown().keySet().stream().reduce((_, last) -> last).ifPresent(licences::lose);
        }
        keep();
        if (started.isPresent()) {
            voice.reads(settings, faults.remove(Fault.COMPLAINS_AT_ITS_START));
        }
        become(start.image().isPresent() ? Power.RUNNING : Power.IN_BOOT_LOADER);
    }

    private void runs(PracticeImage image, String from) {
        runningImage = from;
        release = image.version();
        takeSettingsOver(image);
        firmware.handToBoard(image.rules().boards());
        attached.up(release, faults.remove(Fault.LOSES_A_DEPENDENT), image.rules());
    }

    /**
     * Why an image that was loaded into memory is not started; empty where nothing is in its way.
     * One that is made for no variant of its own starts on all.
     */
    synchronized Optional<String> whyNotFromMemory(PracticeImage image) {
        return BootLoader.refusal(
                description,
                image,
                memory.getProperty("settings-of"),
                firmware.loader(),
                image.variant().isEmpty());
    }

    /** Out of the boot loader, without a file: the next start finds what it found before. */
    synchronized void startFromMemory(PracticeImage image) {
        become(Power.STARTING);
        TIMER.after(description.startsInDevice().dividedBy(pace), () -> upFromMemory(image));
    }

    private synchronized void upFromMemory(PracticeImage image) {
        if (closed) {
            return;
        }
        memory.setProperty("starts", String.valueOf(starts() + 1));
        startedAt = Instant.now();
        started = Optional.of(image);
        runs(image, "memory");
        keep();
        become(Power.RUNNING);
    }

    public Flash flash() {
        return flash;
    }

    /** Asked and told under the machine's lock. */
    synchronized <T> T firmware(Function<Firmware, T> asked) {
        return asked.apply(firmware);
    }

    synchronized void handToLoader(String file) {
        firmware.handToLoader(file);
        keep();
    }

    Labels labels() {
        return labels;
    }

    /** What can be done at its boot loader's prompt. */
    Optional<Loader> bootLoader() {
        return bootLoader;
    }

    /** The first start of a newer release may write settings another way. */
    private void takeSettingsOver(PracticeImage image) {
        settings = memory.getProperty("settings").lines().toList();
        if (Releases.isOlder(memory.getProperty("settings-of"), image.version())) {
            settings = image.rules().converted(settings);
        }
        if (faults.remove(Fault.REWRITES_A_LINE) && !settings.isEmpty()) {
            settings =
                    Stream.concat(
                                    settings.stream().limit(settings.size() - 1L),
                                    Stream.of(
                                            settings.getLast() + " # as before " + image.version()))
                            .toList();
        }
        memory.setProperty("settings", String.join("\n", settings));
        memory.setProperty("settings-of", image.version());
    }

    /** On its console line. */
    Voice voice() {
        return voice;
    }

    Licences licences() {
        return licences;
    }

    /** What a file on its storage is. */
    PracticeImage.Checked check(String file) {
        return labels.check(flash.file(file));
    }

    Attachments attached() {
        return attached;
    }

    /** What it was started with; empty while nothing runs. */
    synchronized Optional<PracticeImage> running() {
        return power == Power.RUNNING ? started : Optional.empty();
    }

    /** Takes over the settings of the member that leads. */
    synchronized void adopt(List<String> now, List<String> kept) {
        settings = now;
        memory.setProperty("settings", String.join("\n", kept));
        keep();
    }

    private void become(Power newPower) {
        if (newPower != Power.RUNNING) {
            attached.down();
        }
        power = newPower;
        listener.ifPresent(l -> l.powerIs(newPower));
    }

    /** Drops all lines and comes back after its starting time, unless something keeps it. */
    synchronized void restart() {
        restarts.add(
                "restart from %s, next %s, at %s"
                        .formatted(runningImage, memory.getProperty("next"), Instant.now()));
        voice.says("going down for a restart");
        become(Power.STARTING);
        if (!faults.remove(Fault.STAYS_SILENT)) {
            Duration takes = description.startsIn(memory.getProperty("next")).dividedBy(pace);
            TIMER.after(
                    faults.contains(Fault.STARTS_SLOWLY) ? takes.multipliedBy(3) : takes,
                    this::boot);
        }
    }

    /** Without power and with it again: it starts, whatever kept it. */
    synchronized void powerCycle() {
        become(Power.OFF);
        become(Power.STARTING);
        TIMER.after(description.startsInDevice().dividedBy(pace), this::boot);
    }

    /** Whether it does something that takes its time on its own clock: it copies, or it starts. */
    public synchronized boolean isBusy() {
        return copies > 0 || power == Power.STARTING || attached.isBusy();
    }

    synchronized void copies(boolean begins) {
        copies += begins ? 1 : -1;
    }

    public synchronized Power power() {
        return power;
    }

    public MachineDescription description() {
        return description;
    }

    /** What it runs: the release, and the file that was started. */
    public synchronized String release() {
        return release;
    }

    synchronized String runningImage() {
        return runningImage;
    }

    /** Every restart that somebody ordered since its process began. */
    public synchronized List<String> restarts() {
        return List.copyOf(restarts);
    }

    public synchronized void add(Fault fault) {
        faults.add(fault);
    }

    public synchronized void clearFaults() {
        faults.clear();
    }

    /** How far a copy comes that something happens to, in percent. */
    synchronized int troubleAt() {
        return troubleAt;
    }

    synchronized void troubleAt(int percent) {
        troubleAt = percent;
    }

    synchronized boolean has(Fault fault) {
        return faults.contains(fault);
    }

    synchronized boolean takeOnce(Fault fault) {
        return faults.remove(fault);
    }

    /** Settings that somebody writes into it whole; they run at once and are not kept yet. */
    synchronized void takeSettings(List<String> lines) {
        settings = List.copyOf(lines);
    }

    /** Somebody else changes its running configuration. */
    public synchronized void changeSettings(String line) {
        settings = Stream.concat(settings.stream(), Stream.of(line)).toList();
    }

    synchronized String next() {
        return next;
    }

    synchronized String fallback() {
        return fallback;
    }

    synchronized boolean isChoiceKept() {
        return choiceKept;
    }

    synchronized void choose(String newNext, String newFallback) {
        next = newNext;
        fallback = newFallback;
        choiceKept = false;
    }

    synchronized void keepChoice() {
        choiceKept = true;
        if (!faults.remove(Fault.FORGETS_THE_CHOICE)) {
            memory.setProperty("next", next);
            memory.setProperty("fallback", fallback);
            keep();
        }
    }

    synchronized List<String> settings() {
        return settings;
    }

    /** What it would start with. */
    public synchronized List<String> keptSettings() {
        return memory.getProperty("settings").lines().toList();
    }

    public synchronized void keepSettings() {
        memory.setProperty("settings", String.join("\n", settings));
        keep();
    }

    synchronized int starts() {
        return Integer.parseInt(memory.getProperty("starts"));
    }

    /** When it was last started, on its own clock, which runs faster than ours since then. */
    synchronized Instant startedAt() {
        return startedAt;
    }

    synchronized Duration uptime() {
        return Duration.between(startedAt, Instant.now()).multipliedBy(pace);
    }

    synchronized List<String> bootMessages() {
        return bootMessages;
    }

    synchronized Map<String, String> links() {
        Map<String, String> links = new TreeMap<>(description.links());
        if (linkLost) {
            links.entrySet().stream()
                    .filter(e -> e.getValue().equals("up"))
                    .reduce((_, last) -> last)
                    .ifPresent(e -> e.setValue("down"));
        }
        return links;
    }

    /** How long a copy of so many bytes takes in our time. */
    Duration copyTime(long bytes) {
        Duration usual =
                Duration.ofNanos(bytes * 1_000_000_000L / (description.bytesPerSecond() * pace));
        return has(Fault.SLOW_LINK) ? usual.multipliedBy(10) : usual;
    }

    /** What it keeps beside what every machine keeps, without power too. */
    Optional<String> note(String key) {
        return Optional.ofNullable(memory.getProperty(key));
    }

    void note(String key, String text) {
        memory.setProperty(key, text);
        keep();
    }

    void forget(String key) {
        if (memory.remove(key) != null) {
            keep();
        }
    }

    void drop(String name) {
        forget(Pieces.NOTE + name);
        flash.delete(name);
    }

    @Override
    public synchronized void close() {
        closed = true;
        become(Power.OFF);
    }
}
