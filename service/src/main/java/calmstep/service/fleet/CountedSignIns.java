package calmstep.service.fleet;

import calmstep.dialect.SignIns;
import calmstep.service.events.Events;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Which logins devices let in and refused, kept where all nodes see it: a lock-out counts
 * everybody's tries.
 */
@Component
class CountedSignIns {
    private static final Duration REMEMBERED = Duration.ofDays(1);

    private final SignInRefusals refusals;
    private final DeviceRows devices;
    private final Events events;
    private final TransactionTemplate transactions;
    private final Clock clock;

    CountedSignIns(
            SignInRefusals refusals,
            DeviceRows devices,
            Events events,
            TransactionTemplate transactions,
            Clock clock) {
        this.refusals = refusals;
        this.devices = devices;
        this.events = events;
        this.transactions = transactions;
        this.clock = clock;
    }

    /**
     * @param several whether it has more than one login: only then it matters which one it let in
     */
    SignIns of(DeviceRow device, boolean several) {
        List<Instant> known =
                new CopyOnWriteArrayList<>(
                        refusals
                                .findByDeviceIdAndAtAfterOrderById(
                                        device.id(), clock.instant().minus(REMEMBERED))
                                .stream()
                                .map(refusal -> refusal.at)
                                .toList());
        String lastLetIn = device.letIn;
        return new SignIns() {
            @Override
            public List<Instant> refusals() {
                return known;
            }

            @Override
            public void refused(String login) {
                known.add(clock.instant());
                transactions.executeWithoutResult(_ -> keep(device, login));
            }

            @Override
            public void letIn(String login) {
                if (several && !login.equals(lastLetIn)) {
                    transactions.executeWithoutResult(_ -> devices.letIn(device.id(), login));
                }
            }
        };
    }

    private void keep(DeviceRow device, String login) {
        SignInRefusal row = new SignInRefusal();
        row.deviceId = device.id();
        row.login = login;
        row.at = clock.instant();
        refusals.save(row);
        events.append(
                Optional.empty(),
                device.name,
                "fleet",
                Events.SERVICE,
                "%s refused the login \"%s\".".formatted(device.name, login));
    }
}
