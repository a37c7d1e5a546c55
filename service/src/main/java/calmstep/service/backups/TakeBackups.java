package calmstep.service.backups;

import calmstep.core.device.BackupKind;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.step.Digests;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import calmstep.service.events.Events;
import calmstep.service.fleet.DeviceDoors;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Round;
import calmstep.service.jobs.Jobs;
import calmstep.service.problems.Refusal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Backs up a selection of devices outside of any run. All that its family can give of a device is
 * kept, or nothing; each is read back from the store before it counts.
 */
@Component
class TakeBackups {
    private final BackupStore store;
    private final Fleet fleet;
    private final DeviceDoors ways;
    private final Round round;
    private final Jobs jobs;
    private final Events events;
    private final TransactionTemplate transactions;

    TakeBackups(
            BackupStore store,
            Fleet fleet,
            DeviceDoors ways,
            Round round,
            Jobs jobs,
            Events events,
            TransactionTemplate transactions) {
        this.store = store;
        this.fleet = fleet;
        this.ways = ways;
        this.round = round;
        this.jobs = jobs;
        this.events = events;
        this.transactions = transactions;
    }

    /**
     * @return the job's identifier; what failed is told by its troubles, a line a device
     */
    long start(List<String> names, String who) {
        return round.start(
                "back-up",
                names,
                who,
                (name, job) -> {
                    Optional<String> trouble = take(name, who);
                    trouble.ifPresent(
                            why ->
                                    round.atTheDatabase(
                                            () -> {
                                                jobs.trouble(job, "%s: %s".formatted(name, why));
                                                return why;
                                            }));
                    return trouble.isEmpty();
                });
    }

    private Optional<String> take(String name, String who) {
        Map<BackupKind, String> texts = new LinkedHashMap<>();
        try (Door door = round.atTheDatabase(() -> ways.door(name, Talk.NONE))) {
            DeviceSession session = door.session();
            for (BackupKind kind : session.kinds()) {
                texts.put(kind, session.pullOff(kind));
            }
            return round.atTheDatabase(() -> keep(name, texts, door.seenHostKey(), who));
        } catch (DeviceTrouble trouble) {
            return Optional.of(trouble.trouble().sentence());
        } catch (Refusal refusal) {
            return Optional.of(String.valueOf(refusal.getMessage()));
        }
    }

    private Optional<String> keep(
            String name, Map<BackupKind, String> texts, String hostKey, String who) {
        if (texts.values().stream().anyMatch(String::isBlank)) {
            return Optional.of(
                    "Expected: a text of each kind. Seen: an empty one. Look at what the device"
                            + " answers; nothing was kept.");
        }
        long device = fleet.require(name).id();
        fleet.rememberHostKey(name, hostKey);
        transactions.executeWithoutResult(
                _ -> {
                    texts.forEach((kind, text) -> store.keep(device, kind, text));
                    events.append(
                            Optional.empty(),
                            name,
                            "backup",
                            who,
                            "%s was backed up: %s."
                                    .formatted(
                                            name,
                                            texts.entrySet().stream()
                                                    .map(
                                                            one ->
                                                                    "%s, %s lines"
                                                                            .formatted(
                                                                                    one.getKey()
                                                                                            .words(),
                                                                                    one.getValue()
                                                                                            .lines()
                                                                                            .count()))
                                                    .collect(Collectors.joining(", "))));
                });
        boolean same =
                texts.entrySet().stream()
                        .allMatch(
                                one ->
                                        store.newest(device, one.getKey())
                                                .filter(
                                                        kept ->
                                                                Digests.sha256(kept)
                                                                        .equals(
                                                                                Digests.sha256(
                                                                                        one
                                                                                                .getValue())))
                                                .isPresent());
        return same
                ? Optional.empty()
                : Optional.of(
                        "Expected: the store gives back what it took. Seen: something else. Look at"
                                + " the database before you rely on this backup.");
    }
}
