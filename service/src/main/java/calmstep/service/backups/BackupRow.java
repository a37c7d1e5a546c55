package calmstep.service.backups;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.Immutable;
import org.jspecify.annotations.Nullable;

@Entity
@Immutable
@Table(name = "backup")
class BackupRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    /** Null for one that was taken outside of a run. */
    @Nullable Long runId;

    @Nullable Long unitId;
    long deviceId;
    int hop;
    String kind = "";
    Instant takenAt = Instant.EPOCH;
    String sha256 = "";
    long sizeBytes;
    byte[] body = new byte[0];

    long id() {
        return id == null ? 0 : id;
    }
}
