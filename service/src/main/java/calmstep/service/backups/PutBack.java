package calmstep.service.backups;

import calmstep.core.compare.ConfigurationComparison;
import calmstep.core.device.BackupKind;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.dialect.Dialect;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import calmstep.service.events.Events;
import calmstep.service.fleet.DeviceDoors;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Compares what is kept with what runs, and writes what was kept into a device: the same one, or
 * the unit that replaces it.
 */
@Component
class PutBack {
    private final BackupStore store;
    private final Fleet fleet;
    private final DeviceDoors ways;
    private final Events events;
    private final TransactionTemplate transactions;

    PutBack(
            BackupStore store,
            Fleet fleet,
            DeviceDoors ways,
            Events events,
            TransactionTemplate transactions) {
        this.store = store;
        this.fleet = fleet;
        this.ways = ways;
        this.events = events;
        this.transactions = transactions;
    }

    /**
     * What became of the lines of a backup: those that are not there any more, and those that are
     * new; secrets masked.
     */
    ConfigurationComparison withRunning(String device, long id) {
        String kept = store.clear(device, id);
        try (Door door = ways.door(device, Talk.NONE)) {
            return fleet.dialectOf(device)
                    .compare(
                            kept,
                            door.session()
                                    .pullOff(
                                            store.kindOf(device, id).isConfiguration()
                                                    ? BackupKind.RUNNING
                                                    : store.kindOf(device, id)));
        } catch (DeviceTrouble trouble) {
            throw Refusal.conflict(
                    "%s could not be asked. %s".formatted(device, trouble.trouble().sentence()));
        }
    }

    /**
     * Writes it, saves it where it is a configuration, and compares again.
     *
     * @return what still differs afterwards
     * @throws Refusal when a run drives the device, its family has no words for it, or the device
     *     refuses
     */
    ConfigurationComparison put(String device, long id, String who) {
        String kept = store.clear(device, id);
        Dialect dialect = fleet.dialectOf(device);
        BackupKind kind = store.kindOf(device, id);
        if (!dialect.putsBack(kind)) {
            throw Refusal.conflict(
                    "The dialect of %s does not say how its %s is put back. Let an admin get it out with calmstep backup get-out %s %s, and give it to the device by hand."
                            .formatted(dialect.title(), kind.words(), device, id));
        }
        fleet.driver(device)
                .ifPresent(
                        run -> {
                            throw Refusal.conflict(
                                    "The run %s drives %s now; expected nobody to. Hold or set it aside there first."
                                            .formatted(run, device));
                        });
        try (Door door = ways.door(device, Talk.NONE)) {
            DeviceSession session = door.session();
            BackupKind there = kind.isConfiguration() ? BackupKind.RUNNING : kind;
            store.keep(fleet.require(device).id(), there, session.pullOff(there));
            session.putBack(kind, kept);
            // What else was kept is no reason to save what somebody has not saved yet.
            if (kind.isConfiguration()) {
                session.save();
            }
            ConfigurationComparison left = dialect.compare(kept, session.pullOff(there));
            transactions.executeWithoutResult(
                    _ ->
                            events.append(
                                    Optional.empty(),
                                    device,
                                    "backup",
                                    who,
                                    "The %s of backup %s was put back on %s; %s."
                                            .formatted(
                                                    kind.words(),
                                                    id,
                                                    device,
                                                    left.isSame()
                                                            ? "every line of it is there"
                                                            : "%s of its lines are missing, %s are new"
                                                                    .formatted(
                                                                            left.dropped().size(),
                                                                            left.added().size()))));
            return left;
        } catch (DeviceTrouble trouble) {
            throw Refusal.conflict(
                    "The backup %s was not put back whole on %s. %s"
                            .formatted(id, device, trouble.trouble().sentence()));
        }
    }
}
