package calmstep.service.fleet;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import calmstep.service.events.Events;
import calmstep.service.problems.Refusal;
import java.time.Duration;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Reads a selection of devices. The ones that do not answer are kept as silent, with the reason.
 */
@Component
public class ReadDevices {
    private static final int AT_ONCE = 8;

    private final Fleet fleet;
    private final DeviceDoors ways;
    private final Round round;
    private final Events events;
    private final TransactionTemplate transactions;

    ReadDevices(
            Fleet fleet,
            DeviceDoors ways,
            Round round,
            Events events,
            TransactionTemplate transactions) {
        this.fleet = fleet;
        this.ways = ways;
        this.round = round;
        this.events = events;
        this.transactions = transactions;
    }

    /**
     * @return the job's identifier
     */
    public long start(List<String> names, String who) {
        List<String> selected =
                names.isEmpty() ? fleet.all().stream().map(k -> k.device().name()).toList() : names;
        return round.start("read", selected, who, (name, _) -> read(name));
    }

    /**
     * Reads some devices now, as far as there is time; the ones that do not answer are kept as
     * silent.
     *
     * @param within what is not read by then is not waited for
     */
    public void readNow(Collection<String> names, Duration within) {
        Semaphore places = new Semaphore(AT_ONCE);
        List<Callable<Boolean>> reads =
                names.stream().map(name -> inItsPlace(name, places)).toList();
        try (ExecutorService readers = Executors.newVirtualThreadPerTaskExecutor()) {
            readers.invokeAll(reads, within.toMillis(), TimeUnit.MILLISECONDS);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
    }

    private Callable<Boolean> inItsPlace(String name, Semaphore places) {
        return () -> {
            places.acquire();
            try {
                return read(name);
            } finally {
                places.release();
            }
        };
    }

    private boolean read(String name) {
        long id = round.atTheDatabase(() -> fleet.require(name).id());
        try (Door door = round.atTheDatabase(() -> ways.door(name, Talk.NONE))) {
            Reading reading = door.session().read();
            return round.atTheDatabase(
                    () -> {
                        keep(id, name, reading, door.seenHostKey());
                        return true;
                    });
        } catch (DeviceTrouble trouble) {
            return isSilent(id, name, trouble.trouble());
        } catch (Refusal refusal) {
            return isSilent(id, name, noLogin(name, refusal));
        }
    }

    private static Trouble noLogin(String name, Refusal refusal) {
        return new Trouble(
                "a login that opens %s".formatted(name),
                String.valueOf(refusal.getMessage()),
                "Give the login a password.");
    }

    private void keep(long id, String name, Reading reading, String hostKey) {
        transactions.executeWithoutResult(
                _ -> {
                    fleet.rememberHostKey(name, hostKey);
                    fleet.keep(id, reading);
                    events.append(
                            Optional.empty(),
                            name,
                            "fleet",
                            Events.SERVICE,
                            "%s was read: it runs %s.".formatted(name, reading.system()));
                });
    }

    private boolean isSilent(long id, String name, Trouble trouble) {
        return round.atTheDatabase(
                () -> {
                    fleet.keepSilence(id, name, trouble);
                    return false;
                });
    }
}
