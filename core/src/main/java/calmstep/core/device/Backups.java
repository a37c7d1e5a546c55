package calmstep.core.device;

import java.util.List;

/** Where the backups of one unit in one run are kept. */
public interface Backups {
    /** Keeps a text for good. */
    Kept keep(int hop, BackupKind kind, String text);

    List<Kept> kept(int hop);

    /** The text as it was kept, read back from the store. */
    String readBack(Kept kept);

    /**
     * A backup that is kept.
     *
     * @param sha256 digest of the clear text
     */
    record Kept(long id, BackupKind kind, String sha256, long sizeBytes) {}
}
