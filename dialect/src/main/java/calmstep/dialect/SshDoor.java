package calmstep.dialect;

import calmstep.core.device.DeviceDoor;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.DeviceTrouble.Kind;
import calmstep.core.device.LoaderSession;
import calmstep.core.device.Trouble;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.InstantSource;
import java.util.List;
import java.util.Optional;

/**
 * The way to a device over SSH, with its console line beside it. The first host key that is shown
 * is remembered by the caller ({@link #seenHostKey()}); a device that shows another one later is
 * not signed in to.
 */
public final class SshDoor implements Door {
    private static final Duration KNOCKS_FOR = ConsoleLines.KNOCKS_FOR;
    private static final int LAST_LINES = 12;

    private final SshAccess access;
    private final Jumps jumps;
    private final ConsoleLines consoles;
    private final Doors.Address address;
    private final String user;
    private final SshSecret secret;
    private final Dialect dialect;
    private final Talk talk;
    private final InstantSource clock;
    private Optional<Jumps.Tunnel> tunnel = Optional.empty();
    private Optional<DeviceSession> open = Optional.empty();
    private String seenHostKey = "";

    SshDoor(
            SshAccess access,
            Jumps jumps,
            ConsoleLines consoles,
            Doors.Address address,
            String user,
            SshSecret secret,
            Dialect dialect,
            Talk talk,
            InstantSource clock) {
        this.access = access;
        this.jumps = jumps;
        this.consoles = consoles;
        this.address = address;
        this.user = user;
        this.secret = secret;
        this.dialect = dialect;
        this.talk = talk;
        this.clock = clock;
    }

    @Override
    public Dialect dialect() {
        return dialect;
    }

    @Override
    public String seenHostKey() {
        return seenHostKey;
    }

    @Override
    public DeviceSession session() {
        if (open.isEmpty()) {
            open = Optional.of(signIn());
        }
        return open.get();
    }

    private InetSocketAddress commandLine() {
        if (tunnel.isEmpty()) {
            tunnel = Optional.of(jumps.to(address.route().via(), address.host(), address.port()));
        }
        return tunnel.get().end();
    }

    private DeviceSession signIn() {
        SshAccess.Opened opened =
                access.open(
                        new SshAccess.Host(
                                address.toString(),
                                commandLine(),
                                user,
                                secret,
                                address.hostKey(),
                                address.route().oldAlgorithms()));
        seenHostKey = opened.seenHostKey();
        try {
            LineExchange exchange =
                    new LineExchange(
                            dialect,
                            new SshLine(opened.session(), SshAccess.SIGNS_IN_WITHIN),
                            talk,
                            address.name());
            exchange.greet();
            dialect.entering()
                    .forEach(
                            entry ->
                                    exchange.command(
                                            entry.send(),
                                            entry.answers().stream()
                                                    .map(answer -> answer.saying(secret.word()))
                                                    .toList(),
                                            entry.within(),
                                            false));
            return new DialectSession(dialect, exchange, clock);
        } catch (IOException refused) {
            opened.session().close(true);
            throw new DeviceTrouble(
                    Kind.LINK_LOST,
                    new Trouble(
                            "%s gives us a command line".formatted(address),
                            SshAccess.reasonOf(refused),
                            "If the device restarts, wait for it; else look at the link."));
        } catch (DeviceTrouble trouble) {
            opened.session().close(true);
            throw trouble;
        }
    }

    @Override
    public Whereabouts whereabouts() {
        close();
        String seen;
        try (Socket socket = SocketLine.knock(commandLine(), KNOCKS_FOR);
                InputStream in = socket.getInputStream()) {
            byte[] greeting = in.readNBytes(4);
            if (new String(greeting, StandardCharsets.US_ASCII).equals("SSH-")) {
                return new Whereabouts.AtCommandLine();
            }
            seen = "the line is closed at once";
        } catch (IOException silent) {
            seen = "no answer on %s:%s".formatted(address.host(), address.port());
        } catch (DeviceTrouble onTheWay) {
            seen = onTheWay.trouble().seen();
        }
        return atConsole().orElse(new Whereabouts.Silent(seen));
    }

    /** Presses return on the console line and looks for the boot loader's prompt. */
    private Optional<Whereabouts> atConsole() {
        return dialect.loaderPrompt()
                .flatMap(prompt -> consoles.shown(address, prompt))
                .map(text -> inLoader(text.lines().filter(line -> !line.isBlank()).toList()));
    }

    private static DeviceDoor.Whereabouts.InBootLoader inLoader(List<String> lines) {
        return new Whereabouts.InBootLoader(
                lines.subList(Math.max(0, lines.size() - LAST_LINES), lines.size()));
    }

    @Override
    public Optional<LoaderSession> loader() {
        if (!dialect.abilities().rescues()) {
            return Optional.empty();
        }
        close();
        Line line = openConsole();
        LoaderAtConsole loader =
                new LoaderAtConsole(dialect, line, talk, address, address.host(), clock);
        try {
            return Optional.of(loader.greeted());
        } catch (DeviceTrouble trouble) {
            loader.close();
            throw trouble;
        }
    }

    private Line openConsole() {
        return consoles.take(address)
                .orElseThrow(
                        () ->
                                new DeviceTrouble(
                                        Kind.NO_ANSWER,
                                        new Trouble(
                                                "the console line of %s answers".formatted(address),
                                                "it does not, or the inventory names none",
                                                "See that it is plugged in, and that the"
                                                        + " inventory says where it is.")));
    }

    @Override
    public void close() {
        open.ifPresent(DeviceSession::close);
        open = Optional.empty();
        tunnel.ifPresent(Jumps.Tunnel::close);
        tunnel = Optional.empty();
    }
}
