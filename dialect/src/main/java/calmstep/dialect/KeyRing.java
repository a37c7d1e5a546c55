package calmstep.dialect;

import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.LoaderSession;
import calmstep.core.device.Trouble;
import calmstep.core.step.Turn;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * A door that several logins may open: they are tried in their order, and none any more once
 * another refusal could lock us out. Over SNMP a login that is not known is not refused but not
 * answered, so there silence lets the next one try.
 */
final class KeyRing implements Door {
    private final Doors.Address address;
    private final Dialect dialect;
    private final Function<Doors.Login, Door> opener;
    private final ConsoleLines consoles;
    private final SignIns signIns;
    private final InstantSource clock;
    private final Map<Doors.Login, Door> doors = new HashMap<>();

    /** The login that opened it last; the first one before that. */
    private Doors.Login current;

    private boolean open;

    KeyRing(
            Doors.Address address,
            Dialect dialect,
            Function<Doors.Login, Door> opener,
            ConsoleLines consoles,
            SignIns signIns,
            InstantSource clock) {
        this.address = address;
        this.dialect = dialect;
        this.opener = opener;
        this.consoles = consoles;
        this.signIns = signIns;
        this.clock = clock;
        current = address.logins().getFirst();
    }

    private Door by(Doors.Login login) {
        return doors.computeIfAbsent(login, opener);
    }

    @Override
    public Dialect dialect() {
        return dialect;
    }

    @Override
    public String seenHostKey() {
        return by(current).seenHostKey();
    }

    @Override
    public DeviceSession session() {
        if (open) {
            return by(current).session();
        }
        List<Instant> refusals = new ArrayList<>(signIns.refusals());
        List<DeviceTrouble> troubles = new ArrayList<>();
        for (Doors.Login login :
                Stream.concat(Stream.of(current), address.logins().stream()).distinct().toList()) {
            if (dialect.locksOut().left(refusals, clock.instant()) <= 0) {
                troubles.add(lockedNext(refusals));
                break;
            }
            try {
                DeviceSession session = by(login).session();
                signIns.letIn(login.name());
                current = login;
                open = true;
                return session;
            } catch (DeviceTrouble trouble) {
                boolean silentOverSnmp =
                        dialect.over() == Dialect.Carrier.SNMP && trouble.kind() == Kind.NO_ANSWER;
                if (trouble.kind() != Kind.SIGN_IN_REFUSED && !silentOverSnmp) {
                    throw trouble;
                }
                if (!silentOverSnmp) {
                    signIns.refused(login.name());
                    refusals.add(clock.instant());
                }
                troubles.add(trouble);
                by(login).close();
            }
        }
        throw troubles.size() == 1 || troubles.getLast().kind() == Kind.NO_ANSWER
                ? troubles.getLast()
                : allRefused(troubles);
    }

    private DeviceTrouble lockedNext(List<Instant> refusals) {
        return new DeviceTrouble(
                Kind.SIGN_IN_REFUSED,
                new Trouble(
                        "%s lets one of our logins in: %s".formatted(address, names()),
                        "it refused us %s times within %s min, and may lock the user at the next refusal"
                                .formatted(
                                        dialect.locksOut().after() - 1,
                                        dialect.locksOut().within().toMinutes()),
                        "Correct the login. Nothing is tried before %s."
                                .formatted(Turn.words(dialect.locksOut().free(refusals)))));
    }

    private DeviceTrouble allRefused(List<DeviceTrouble> troubles) {
        return new DeviceTrouble(
                Kind.SIGN_IN_REFUSED,
                new Trouble(
                        "%s lets one of our logins in: %s".formatted(address, names()),
                        troubles.stream()
                                .map(trouble -> trouble.trouble().seen())
                                .collect(Collectors.joining("; ")),
                        troubles.getLast().trouble().remedy()));
    }

    private String names() {
        return address.logins().stream().map(Doors.Login::name).collect(Collectors.joining(", "));
    }

    @Override
    public Whereabouts whereabouts() {
        open = false;
        return by(current).whereabouts();
    }

    @Override
    public Optional<LoaderSession> loader() {
        open = false;
        return by(current).loader();
    }

    @Override
    public Optional<ConsoleWatch> watch(Talk talk, Duration atMost) {
        return consoles.watch(address, dialect, talk, atMost);
    }

    @Override
    public void close() {
        doors.values().forEach(Door::close);
        open = false;
    }
}
