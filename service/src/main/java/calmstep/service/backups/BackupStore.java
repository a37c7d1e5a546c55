package calmstep.service.backups;

import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.BackupKind;
import calmstep.core.device.Backups;
import calmstep.core.step.Digests;
import calmstep.dialect.Dialect;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import calmstep.service.secrets.SecretBox;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Keeps backups and gives them back. */
@Component
public class BackupStore {
    private final BackupRows rows;
    private final SecretBox secrets;
    private final Fleet fleet;
    private final Clock clock;

    BackupStore(BackupRows rows, SecretBox secrets, Fleet fleet, Clock clock) {
        this.rows = rows;
        this.secrets = secrets;
        this.fleet = fleet;
        this.clock = clock;
    }

    /** A backup without its text. */
    public record BackupView(
            long id, int hop, String kind, Instant takenAt, String sha256, long sizeBytes) {
        static BackupView of(BackupRow row) {
            return new BackupView(
                    row.id(), row.hop, row.kind, row.takenAt, row.sha256, row.sizeBytes);
        }
    }

    /** The backups of one unit in one run, as the steps see them. */
    public Backups of(long runId, long unitId, long deviceId) {
        return new Backups() {
            @Override
            public Kept keep(int hop, BackupKind kind, String text) {
                BackupRow row = row(deviceId, kind, text);
                row.runId = runId;
                row.unitId = unitId;
                row.hop = hop;
                return asKept(rows.save(row));
            }

            @Override
            public List<Kept> kept(int hop) {
                return rows.findByUnitIdAndHopOrderById(unitId, hop).stream()
                        .map(BackupStore::asKept)
                        .toList();
            }

            @Override
            public String readBack(Kept kept) {
                return text(rows.findById(kept.id()).orElseThrow());
            }
        };
    }

    private BackupRow row(long deviceId, BackupKind kind, String text) {
        BackupRow row = new BackupRow();
        row.deviceId = deviceId;
        row.kind = kind.toString();
        row.takenAt = clock.instant();
        row.sha256 = Digests.sha256(text);
        row.sizeBytes = text.getBytes(StandardCharsets.UTF_8).length;
        row.body = secrets.seal(owner(deviceId), text);
        return row;
    }

    /** Keeps one that was taken outside of a run. */
    void keep(long deviceId, BackupKind kind, String text) {
        rows.save(row(deviceId, kind, text));
    }

    /** The newest text of a kind, read back from the store; secrets in clear. */
    Optional<String> newest(long deviceId, BackupKind kind) {
        return rows.findFirstByDeviceIdAndKindOrderByIdDesc(deviceId, kind.toString())
                .map(this::text);
    }

    private static Backups.Kept asKept(BackupRow row) {
        return new Backups.Kept(row.id(), new BackupKind(row.kind), row.sha256, row.sizeBytes);
    }

    private static String owner(long deviceId) {
        return "backup/" + deviceId;
    }

    private String text(BackupRow row) {
        return secrets.open(owner(row.deviceId), row.body);
    }

    public List<BackupView> ofUnit(long unitId) {
        return rows.findByUnitIdOrderById(unitId).stream().map(BackupView::of).toList();
    }

    List<BackupView> ofDevice(String name) {
        return rows.findByDeviceIdOrderByIdDesc(fleet.idOfAny(name)).stream()
                .map(BackupView::of)
                .toList();
    }

    /**
     * The newest startup configuration of a device with its secrets masked; empty where none was
     * kept.
     */
    public Optional<String> newestMasked(String device) {
        return rows.findByDeviceIdOrderByIdDesc(fleet.idOfAny(device)).stream()
                .filter(row -> row.kind.equals(BackupKind.STARTUP.toString()))
                .findFirst()
                .map(row -> fleet.dialectOf(device).masked(text(row)));
    }

    /** The text with its secrets masked. */
    String masked(String device, long id) {
        return fleet.dialectOf(device).masked(clear(device, id));
    }

    /** The text with its secrets in clear: for the device, or for {@link GetOut}. */
    String clear(String device, long id) {
        return text(require(device, id));
    }

    BackupController.Keeps keeps(String device) {
        Dialect dialect = fleet.dialectOf(device);
        return new BackupController.Keeps(
                dialect.kinds().stream().map(BackupKind::name).toList(), dialect.cannotGive());
    }

    BackupKind kindOf(String device, long id) {
        return new BackupKind(require(device, id).kind);
    }

    private BackupRow require(String device, long id) {
        return rows.findById(id)
                .filter(b -> b.deviceId == fleet.idOfAny(device))
                .orElseThrow(() -> Refusal.notFound("backup", String.valueOf(id)));
    }

    /** Two backups of a device compared: without volatile lines, with secrets masked. */
    ConfigurationComparison compare(String device, long older, long newer) {
        return fleet.dialectOf(device).compare(clear(device, older), clear(device, newer));
    }
}
