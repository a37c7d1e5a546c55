package calmstep.core.device;

import calmstep.core.fleet.Reading;
import java.net.URI;
import java.util.List;
import java.util.Optional;

/**
 * A device that is signed in to. Every method may throw {@link DeviceTrouble}. Not for several
 * threads.
 */
public interface DeviceSession extends AutoCloseable {
    Reading read();

    /** As {@link #read()}, of this moment: for whoever does next what cannot be undone. */
    Reading readNow();

    /** The device's mark of its last start, see {@link Reading#bootMark()}. */
    String bootMark();

    /** What its family can give to be kept: both configurations first. */
    List<BackupKind> kinds();

    /** The whole text of a kind, proven complete to its end mark; secrets in clear. */
    String pullOff(BackupKind kind);

    /**
     * Writes a whole text into the device, as {@link #pullOff} gave it. A configuration runs at
     * once; {@link #save()} keeps it.
     */
    void putBack(BackupKind kind, String text);

    /** Makes the running configuration the one that is read at the next start. */
    void save();

    /** Asks the device whether it reaches a source; empty when it does, else what it says. */
    Optional<String> whyNotReached(URI source);

    /** Makes the device pull a file; returns when the device says that it has it. */
    void fetch(URI source, String fileName);

    /** Whether files are sent to it; otherwise it fetches them itself. */
    boolean takesPush();

    /**
     * The file that it is fetching by itself just now, whoever asked for it; empty when there is
     * none, or it cannot tell.
     */
    Optional<String> fetching();

    /** Waits for the fetch that is under way, as {@link #fetch} does. */
    void awaitFetch(String fileName);

    /**
     * Has it copy a file from a medium that is plugged into it. @return whether it says that it
     * did; not where there is no such medium or file
     */
    boolean takeFrom(String medium, String fileName);

    /** What it says of the channel over which it sends files on to others. */
    Channel channel();

    /** Has it fetch a file and send it once to all who hear it; returns when that has begun. */
    void sendToAll(URI source, String fileName);

    /** Has it send one receiver what that one misses of a file; returns when that has begun. */
    void sendMissing(URI source, String fileName, String receiver);

    /** How many pieces it misses of a file that is sent to it; empty where nothing of it came. */
    Optional<Long> missingOf(String fileName);

    /**
     * A channel that carries one thing at a time.
     *
     * @param isFree whether something else may be sent
     * @param says what its device says of it
     */
    record Channel(boolean isFree, String says) {}

    /** Sends a file to a device that takes a push; returns when the device says that it has it. */
    void push(String fileName, ImageSource.Opened file, long sizeBytes);

    /** Digest that the device computes of a file in its storage; empty when it has no such file. */
    Optional<String> sha256Of(String fileName);

    void delete(String fileName);

    /** Has the dependents fetch an image ahead, while they serve; returns when that has begun. */
    void preLoad(String fileName);

    /** How far the dependents are with fetching an image; empty when all of them hold it. */
    Optional<String> whyNotPreLoaded(String fileName);

    /** Chooses what is started next and what if that fails, and saves the choice. */
    void choose(String next, String fallback);

    /** Hands a file to a component other than the system; its next restart takes it over. */
    void install(String component, String fileName);

    /** Returns when the device has taken the order; it drops the line soon after. */
    void restart();

    /** Restarts one member while the others serve; returns when the order is taken. */
    void restartMember(String member);

    /**
     * Makes another member the active one; returns when the order is taken, which may cost the
     * line.
     */
    void handOver(String member);

    /**
     * Has the traffic go another way, as far as it can; returns when the order is taken. Safe to
     * repeat.
     *
     * @param member whose; empty for a device of no members
     */
    void drain(String member);

    /** What still goes over it, in its own words; empty when nothing does. */
    Optional<String> whyNotDrained(String member);

    /** Lets it carry its traffic again; safe to repeat. */
    void undrain();

    /** What it says of itself while it is drained; empty when it takes its traffic. */
    Optional<String> whyNotCarrying();

    @Override
    void close();
}
