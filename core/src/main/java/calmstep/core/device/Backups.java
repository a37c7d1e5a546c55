package calmstep.core.device;

import java.util.List;

/** Where the backups of one unit in one run are kept. */
public interface Backups {
    /** Keeps a text for good. */
    Kept keep(int hop, BackupKind kind, String text);

    /** Those that were taken for a hop, the newest last. */
    List<Kept> kept(int hop);

    /**
     * Keeps what is about to be overwritten: for people, and never put back by a step.
     *
     * @param hop the one within which that happens
     */
    default Kept keepOverwritten(int hop, BackupKind kind, String text) {
        return keep(OVERWRITTEN - hop, kind, text);
    }

    /** Hops are counted from 1; below 0 lies what was overwritten. */
    int OVERWRITTEN = -1;

    /** The text as it was kept, read back from the store. */
    String readBack(Kept kept);

    /**
     * A backup that is kept.
     *
     * @param sha256 digest of the clear text
     */
    record Kept(long id, BackupKind kind, String sha256, long sizeBytes) {}
}
