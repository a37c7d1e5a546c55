package calmstep.core.step;

import calmstep.core.device.BackupKind;
import calmstep.core.device.Backups;
import calmstep.core.device.DeviceDoor;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.LoaderSession;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import java.net.URI;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * The smallest device that the steps can be tried on: it runs what it booted, and is away for four
 * minutes after a restart.
 */
final class DeviceInMemory implements DeviceDoor, PlainSession {
    private static final Duration AWAY = Duration.ofMinutes(4);

    final Map<String, String> files = new TreeMap<>();
    final Kept backups = new Kept();
    final String digest;
    String release = "0";
    String running = "v0.img";
    String next = "v0.img";
    String fallback = "";
    boolean drained;
    int restarts;
    int orders;
    int losesOrders;
    int damagedCopies;
    int stopsInLoader;

    /** The restart from which it does not come back; 0 for none. */
    int diesAt;

    String serial = "S1";
    String make = "R6-4";
    String settings = "settings";

    /** What it calls a release that it runs. */
    java.util.function.UnaryOperator<String> calls = release -> release;

    int memoryStarts;
    private boolean inLoader;
    private String startsFrom = "flash";
    Instant now = Instant.EPOCH;
    Instant backAt = Instant.EPOCH;

    DeviceInMemory(String digest) {
        this.digest = digest;
        files.put("v0.img", digest);
    }

    /** Keeps backups in memory. */
    static final class Kept implements Backups {
        private final List<String> texts = new ArrayList<>();
        private final Map<Integer, List<Backups.Kept>> byHop = new TreeMap<>();

        @Override
        public Backups.Kept keep(int hop, BackupKind kind, String text) {
            texts.add(text);
            Backups.Kept kept =
                    new Backups.Kept(texts.size() - 1, kind, Digests.sha256(text), text.length());
            byHop.computeIfAbsent(hop, _ -> new ArrayList<>()).add(kept);
            return kept;
        }

        /** The store gives back something else from now on. */
        void forge(String text) {
            texts.replaceAll(_ -> text);
        }

        @Override
        public List<Backups.Kept> kept(int hop) {
            return List.copyOf(byHop.getOrDefault(hop, List.of()));
        }

        @Override
        public String readBack(Backups.Kept kept) {
            return texts.get((int) kept.id());
        }
    }

    /**
     * Another box stands there: it runs a release, and knows nothing of the other one's settings.
     */
    void replaceBy(String otherSerial, String image) {
        serial = otherSerial;
        settings = "of the bench";
        files.clear();
        files.put(image, digest);
        running = image;
        next = image;
        fallback = "";
        release = image.substring(1, 2);
        restarts = 0;
        diesAt = 0;
        backAt = Instant.EPOCH;
    }

    private void boot() {
        if (!backAt.equals(Instant.EPOCH) && !now.isBefore(backAt)) {
            backAt = Instant.EPOCH;
            inLoader = startsFrom.equals("flash") && stopsInLoader-- > 0;
            if (!inLoader) {
                running = startsFrom.equals("flash") ? next : "memory";
                release = (startsFrom.equals("flash") ? next : startsFrom).substring(1, 2);
            }
        }
    }

    /** What is loaded is its whole name; it is gone when it was started. */
    @Override
    public Optional<LoaderSession> loader() {
        if (!(whereabouts() instanceof Whereabouts.InBootLoader)) {
            throw new DeviceTrouble(
                    DeviceTrouble.Kind.NO_ANSWER, new Trouble("a loader", "none", "wait"));
        }
        return Optional.of(
                new LoaderSession() {
                    private String loaded = "";

                    @Override
                    public Optional<String> load(URI source) {
                        loaded = source.getPath().substring(1);
                        return Optional.of(digest);
                    }

                    @Override
                    public void startLoaded() {
                        startsFrom = loaded;
                        memoryStarts++;
                        inLoader = false;
                        backAt = now.plus(AWAY);
                    }

                    @Override
                    public void close() {}
                });
    }

    @Override
    public DeviceSession session() {
        if (!(whereabouts() instanceof Whereabouts.AtCommandLine)) {
            throw new DeviceTrouble(
                    DeviceTrouble.Kind.NO_ANSWER, new Trouble("an answer", "none", "wait"));
        }
        return this;
    }

    @Override
    public Whereabouts whereabouts() {
        boot();
        return inLoader
                ? new Whereabouts.InBootLoader(List.of("start: v0.img not started", "loader> "))
                : backAt.equals(Instant.EPOCH)
                        ? new Whereabouts.AtCommandLine()
                        : new Whereabouts.Silent("no answer");
    }

    @Override
    public Reading readNow() {
        return read();
    }

    @Override
    public Reading read() {
        List<StoredFile> stored =
                files.keySet().stream().map(name -> new StoredFile(name, 100)).toList();
        return new Reading(
                now,
                new Identity("rt", make, "C", serial),
                new TreeMap<>(Map.of("system", calls.apply(release))),
                new BootChoice(running, next, fallback, true),
                bootMark(),
                List.of(new Volume("flash", 350, 350 - 100L * files.size(), stored)),
                false,
                Digests.sha256(settings),
                List.of());
    }

    @Override
    public String bootMark() {
        return "%sstart %s"
                .formatted(serial.equals("S1") ? "" : serial + ", ", restarts + memoryStarts);
    }

    @Override
    public String pullOff(BackupKind kind) {
        return settings;
    }

    @Override
    public void putBack(BackupKind kind, String text) {
        settings = text;
    }

    @Override
    public void save() {}

    @Override
    public Optional<String> whyNotReached(URI source) {
        return Optional.empty();
    }

    @Override
    public void fetch(URI source, String fileName) {
        if (files.size() >= 3) {
            throw new DeviceTrouble(
                    DeviceTrouble.Kind.REFUSED_BY_DEVICE, new Trouble("room", "none", "make room"));
        }
        files.put(fileName, damagedCopies-- > 0 ? "damaged" : digest);
    }

    @Override
    public Optional<String> sha256Of(String fileName) {
        return Optional.ofNullable(files.get(fileName));
    }

    @Override
    public void delete(String fileName) {
        if (fileName.equals(running) || fileName.equals(next) || fileName.equals(fallback)) {
            throw new AssertionError("a protected image was deleted: " + fileName);
        }
        files.remove(fileName);
    }

    @Override
    public void choose(String newNext, String newFallback) {
        next = newNext;
        fallback = newFallback;
    }

    @Override
    public void install(String component, String fileName) {
        throw new AssertionError("it has no component but its system");
    }

    @Override
    public void restartMember(String member) {
        throw new AssertionError("it has no members");
    }

    @Override
    public void handOver(String member) {
        throw new AssertionError("it has no members");
    }

    @Override
    public void drain(String member) {
        drained = true;
    }

    @Override
    public Optional<String> whyNotDrained(String member) {
        return drained ? Optional.empty() : Optional.of("12 flows");
    }

    @Override
    public void undrain() {
        drained = false;
    }

    @Override
    public Optional<String> whyNotCarrying() {
        return drained ? Optional.of("it is drained") : Optional.empty();
    }

    @Override
    public void restart() {
        orders++;
        if (losesOrders-- > 0) {
            return;
        }
        restarts++;
        startsFrom = "flash";
        backAt = restarts == diesAt ? Instant.MAX : now.plus(AWAY);
    }

    @Override
    public void close() {}
}
