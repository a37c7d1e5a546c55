package calmstep.dialect;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Way;
import java.time.InstantSource;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** The ways to devices, each over what its dialect says: one SSH client for all of them. */
public final class Doors implements AutoCloseable {
    private final SshAccess access = new SshAccess();
    private final Jumps jumps;
    private final ConsoleLines consoles;
    private final InstantSource clock;

    public Doors(InstantSource clock, StopKeys keys) {
        this.clock = clock;
        jumps = new Jumps(access, keys, clock);
        consoles = new ConsoleLines(jumps);
    }

    /** The way to one device, where nobody is locked out; nothing is opened yet. */
    public Door to(Address address, Dialect dialect, Talk talk) {
        return to(address, dialect, talk, SignIns.UNCOUNTED);
    }

    /**
     * The way to one device; nothing is opened yet.
     *
     * @throws DeviceTrouble when none of its logins is of the kind that the family's way needs
     */
    public Door to(Address address, Dialect dialect, Talk talk, SignIns signIns) {
        List<Login> fit =
                address.logins().stream()
                        .filter(login -> fits(login.secret(), dialect.over()))
                        .toList();
        if (fit.isEmpty()) {
            throw new DeviceTrouble(
                    DeviceTrouble.Kind.SIGN_IN_REFUSED,
                    new Trouble(
                            "%s for %s".formatted(needed(dialect.over()), address),
                            "its login is of another kind: %s"
                                    .formatted(
                                            address.logins().stream()
                                                    .map(login -> login.secret().toString())
                                                    .collect(Collectors.joining(", "))),
                            "Name another login in the inventory, or give this one what the family"
                                    + " needs."));
        }
        if (dialect.over() == Dialect.Carrier.SNMP && !address.route().via().isEmpty()) {
            throw new DeviceTrouble(
                    DeviceTrouble.Kind.NO_ANSWER,
                    new Trouble(
                            "a way to ask %s by SNMP".formatted(address),
                            "it lies behind the jump host %s, which passes on TCP alone"
                                    .formatted(address.route().via().getLast()),
                            "Let this network reach the device, and leave \"via\" out of its line"
                                    + " in the inventory."));
        }
        Address fitting = address.withLogins(fit);
        return new KeyRing(
                fitting,
                dialect,
                login -> door(fitting, login, dialect, talk),
                consoles,
                signIns,
                clock);
    }

    private Door door(Address address, Login login, Dialect dialect, Talk talk) {
        return switch (login.secret()) {
            case SnmpLogin snmp -> new SnmpDoor(address, snmp, dialect, talk, clock);
            case SshSecret secret ->
                    dialect.over() == Dialect.Carrier.HTTPS
                            ? https(address, login, secret, dialect, talk)
                            : new SshDoor(
                                    access,
                                    jumps,
                                    consoles,
                                    address,
                                    login.user(),
                                    secret,
                                    dialect,
                                    talk,
                                    clock);
        };
    }

    private HttpsDoor https(
            Address address, Login login, SshSecret secret, Dialect dialect, Talk talk) {
        return new HttpsDoor(jumps, address, login.user(), secret.word(), dialect, talk, clock);
    }

    private static boolean fits(Secret secret, Dialect.Carrier over) {
        return switch (over) {
            case SSH -> secret instanceof SshSecret;
            case HTTPS -> secret instanceof SshSecret.Password;
            case SNMP -> secret instanceof SnmpLogin;
        };
    }

    private static String needed(Dialect.Carrier over) {
        return switch (over) {
            case SSH -> "a user with a password or a key";
            case HTTPS -> "a user with a password";
            case SNMP -> "an SNMP login";
        };
    }

    @Override
    public void close() {
        consoles.close();
        access.close();
    }

    /** Who signs in, and what proves it; the name is for messages. */
    public record Login(String name, String user, Secret secret) {
        @Override
        public String toString() {
            return "%s (%s)".formatted(name, secret);
        }
    }

    /** A host on the way with the login that opens it. */
    public record Stop(String host, int port, Login login) {
        String place() {
            return new Way.Stop(login.name(), host, port).place();
        }

        @Override
        public String toString() {
            return new Way.Stop(login.name(), host, port).toString();
        }
    }

    /** How one gets there: as {@link Way}, with what opens the hosts on it. */
    public record Route(List<Stop> via, Optional<Stop> console, Set<String> oldAlgorithms) {
        public static final Route STRAIGHT = new Route(List.of(), Optional.empty(), Set.of());
    }

    /**
     * Where a device is and how it is opened.
     *
     * @param name of the device, for messages
     * @param consolePort 0 where there is none
     * @param logins at least one; they are tried in this order
     * @param hostKey fingerprint of the host key or certificate that the device must show; empty on
     *     the first meeting
     */
    public record Address(
            String name,
            String host,
            int port,
            int consolePort,
            List<Login> logins,
            String hostKey,
            Route route) {
        public Address {
            logins = List.copyOf(logins);
        }

        /** Of a device that is simply there. */
        public Address(
                String name,
                String host,
                int port,
                int consolePort,
                List<Login> logins,
                String hostKey) {
            this(name, host, port, consolePort, logins, hostKey, Route.STRAIGHT);
        }

        /** Where its console line is; empty where it has none that we know. */
        String consoleLine() {
            return consolePort > 0
                    ? "%s %s:%s".formatted(route.via(), host, consolePort)
                    : route.console().map(Stop::toString).orElse("");
        }

        Address withLogins(List<Login> others) {
            return new Address(name, host, port, consolePort, others, hostKey, route);
        }

        @Override
        public String toString() {
            return "%s (%s:%s)".formatted(name, host, port);
        }
    }
}
