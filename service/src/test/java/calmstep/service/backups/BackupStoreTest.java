package calmstep.service.backups;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.core.device.BackupKind;
import calmstep.core.device.Backups;
import calmstep.service.RunningService;
import calmstep.service.fleet.Fleet;
import java.time.Duration;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;

class BackupStoreTest {
    private static final String TEXT = "name rt-1\nkey of the pass gate 7781-quite-secret\nend\n";

    private final BackupStore store = RunningService.bean(BackupStore.class);
    private final JdbcTemplate sql = RunningService.sql();

    private record Unit(String device, long deviceId, long run, long id) {}

    private Unit unit() {
        String device = RunningService.router();
        long deviceId = RunningService.bean(Fleet.class).require(device).id();
        String name = RunningService.name("run");
        long plan =
                sql.queryForObject(
                        "insert into plan (name, target, state, body, written_by, written_at,"
                                + " version) values (?, '', 'used', '', '', now(), 0) returning id",
                        Long.class,
                        name);
        long run =
                sql.queryForObject(
                        "insert into run (plan_id, name, state, started_by, started_at, version)"
                                + " values (?, ?, 'finished', '', now(), 0) returning id",
                        Long.class,
                        plan,
                        name);
        long id =
                sql.queryForObject(
                        "insert into run_unit (run_id, device_id, name, plan, state, version)"
                                + " values (?, ?, ?, '', 'settled', 0) returning id",
                        Long.class,
                        run,
                        deviceId,
                        device);
        return new Unit(device, deviceId, run, id);
    }

    private Backups backups(Unit unit) {
        return store.of(unit.run(), unit.id(), unit.deviceId());
    }

    @Test
    void whatIsKeptIsReadBackByteForByteAndIsSealedInTheDatabase() {
        Unit unit = unit();
        Backups.Kept kept = backups(unit).keep(1, BackupKind.RUNNING, TEXT);
        assertThat(backups(unit).readBack(kept)).isEqualTo(TEXT);
        assertThat(kept.sizeBytes()).isEqualTo(TEXT.length());
        assertThat(
                        sql.queryForObject(
                                "select encode(body, 'escape') from backup where id = ?",
                                String.class,
                                kept.id()))
                .doesNotContain("7781")
                .doesNotContain("rt-1");
        assertThat(backups(unit).kept(1)).containsExactly(kept);
        assertThat(backups(unit).kept(2)).isEmpty();
    }

    @Test
    void aBackupThatWasMovedToAnotherDeviceOrAlteredCannotBeOpened() {
        Unit one = unit();
        Unit other = unit();
        Backups.Kept kept = backups(one).keep(1, BackupKind.STARTUP, TEXT);
        sql.execute("alter table backup disable trigger only_added");
        try {
            sql.update("update backup set device_id = ? where id = ?", other.deviceId(), kept.id());
            assertThatThrownBy(() -> backups(one).readBack(kept))
                    .isInstanceOf(RuntimeException.class);
            sql.update(
                    "update backup set device_id = ?, body = set_byte(body, length(body) - 1,"
                            + " get_byte(body, length(body) - 1) # 1) where id = ?",
                    one.deviceId(),
                    kept.id());
            assertThatThrownBy(() -> backups(one).readBack(kept))
                    .isInstanceOf(RuntimeException.class);
        } finally {
            sql.execute("alter table backup enable trigger only_added");
        }
    }

    @Test
    void oldOnesGoButForTheNewestOfEachKindAndNothingYoungGoesAtAll() {
        Unit unit = unit();
        for (int i = 0; i < Retention.NEWEST_KEPT + 3; i++) {
            backups(unit).keep(1, BackupKind.RUNNING, TEXT + i);
        }
        backups(unit).keep(1, BackupKind.STARTUP, TEXT);
        assertThatThrownBy(
                        () -> sql.update("delete from backup where device_id = ?", unit.deviceId()))
                .hasMessageContaining("older than 30 days");
        sql.execute("alter table backup disable trigger only_added");
        sql.update(
                "update backup set taken_at = taken_at - interval '100 days' where device_id = ?",
                unit.deviceId());
        sql.execute("alter table backup enable trigger only_added");
        Retention retention = RunningService.bean(Retention.class);
        retention.letGo(Duration.ofDays(200));
        assertThat(store.ofDevice(unit.device())).hasSize(Retention.NEWEST_KEPT + 4);
        assertThat(retention.letGo(Duration.ofDays(60))).isEqualTo(3);
        assertThat(store.ofDevice(unit.device()))
                .hasSize(Retention.NEWEST_KEPT + 1)
                .extracting(BackupStore.BackupView::kind)
                .contains("startup");
        assertThat(store.newest(unit.deviceId(), BackupKind.RUNNING))
                .contains(TEXT + (Retention.NEWEST_KEPT + 2));
    }

    @Test
    void aPersonSeesTheTextWithItsSecretsMaskedAndOnlyUnderItsOwnDevice() {
        Unit unit = unit();
        Backups.Kept kept =
                backups(unit)
                        .keep(
                                1,
                                BackupKind.RUNNING,
                                "name rt-1\nsign-in steward secret 7781-quite-secret\n");
        assertThat(store.masked(unit.device(), kept.id())).contains("name rt-1");
        assertThatThrownBy(() -> store.masked(unit().device(), kept.id()))
                .hasMessageContaining("no backup");
        assertThat(store.ofDevice(unit.device()))
                .extracting(b -> b.sha256())
                .containsExactly(kept.sha256());
    }
}
