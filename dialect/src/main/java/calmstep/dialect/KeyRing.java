package calmstep.dialect;

import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.Trouble;
import calmstep.core.step.Turn;
import java.time.Instant;
import java.time.InstantSource;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * A door that several logins may open: they are tried in their order, and none any more once another refusal could lock us out. Over SNMP a login that is not
 * known is not refused but not answered, so there silence lets the next one try.
 */
final class KeyRing implements Door {
    private final Doors.Address address;
    private final Dialect dialect;
    private final Function<Doors.Login, Door> opener;
    private final SignIns signIns;
    private final InstantSource clock;
    private Door chosen;
    private boolean open;

    KeyRing(Doors.Address address, Dialect dialect, Function<Doors.Login, Door> opener, SignIns signIns, InstantSource clock) {
        this.address = address;
        this.dialect = dialect;
        this.opener = opener;
        this.signIns = signIns;
        this.clock = clock;
        chosen = opener.apply(address.logins().getFirst());
    }

    @Override
    public Dialect dialect() {
        return dialect;
    }

    @Override
    public String seenHostKey() {
        return chosen.seenHostKey();
    }

    @Override
    public DeviceSession session() {
        if (open) {
            return chosen.session();
        }
        List<Instant> refusals = new ArrayList<>(signIns.refusals());
        List<DeviceTrouble> troubles = new ArrayList<>();
        for (Doors.Login login : address.logins()) {
            if (dialect.locksOut().left(refusals, clock.instant()) <= 0) {
                troubles.add(lockedNext(refusals));
                break;
            }
            chosen = login.equals(address.logins().getFirst()) ? chosen : opener.apply(login);
            try {
                DeviceSession session = chosen.session();
                signIns.letIn(login.name());
                open = true;
                return session;
            } catch (DeviceTrouble trouble) {
                boolean silentOverSnmp = dialect.over() == Dialect.Carrier.SNMP && trouble.kind() == Kind.NO_ANSWER;
                if (trouble.kind() != Kind.SIGN_IN_REFUSED && !silentOverSnmp) {
                    throw trouble;
                }
                if (!silentOverSnmp) {
                    signIns.refused(login.name());
                    refusals.add(clock.instant());
                }
                troubles.add(trouble);
                chosen.close();
            }
        }
        throw troubles.size() == 1 || troubles.getLast().kind() == Kind.NO_ANSWER ? troubles.getLast() : allRefused(troubles);
    }

    private DeviceTrouble lockedNext(List<Instant> refusals) {
        return new DeviceTrouble(Kind.SIGN_IN_REFUSED, new Trouble("%s lets one of our logins in: %s".formatted(address, names()),
                "it refused us %d times within %d min, and may lock the user at the next refusal".formatted(dialect.locksOut().after() - 1, dialect.locksOut().within().toMinutes()),
                "Correct the login. Nothing is tried before %s.".formatted(Turn.words(dialect.locksOut().free(refusals)))));
    }

    private DeviceTrouble allRefused(List<DeviceTrouble> troubles) {
        return new DeviceTrouble(Kind.SIGN_IN_REFUSED, new Trouble("%s lets one of our logins in: %s".formatted(address, names()),
                troubles.stream().map(trouble -> trouble.trouble().seen()).collect(Collectors.joining("; ")), troubles.getLast().trouble().remedy()));
    }

    private String names() {
        return address.logins().stream().map(Doors.Login::name).collect(Collectors.joining(", "));
    }

    @Override
    public Whereabouts whereabouts() {
        Whereabouts seen = chosen.whereabouts();
        open = false;
        return seen;
    }

    @Override
    public void close() {
        chosen.close();
        open = false;
    }
}
