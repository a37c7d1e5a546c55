package calmstep.dialect;

import calmstep.core.device.DeviceTrouble;
import calmstep.dialect.Doors.Address;
import calmstep.dialect.Doors.Stop;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Pattern;
import org.apache.sshd.client.session.ClientSession;

/**
 * The console lines of devices. Many a console server gives a line to one caller alone: while
 * somebody listens to a line, who only looks what it shows looks through them, and who wants to
 * talk there takes it away from them.
 */
final class ConsoleLines implements AutoCloseable {
    static final Duration KNOCKS_FOR = Duration.ofMillis(1500);

    private final Jumps jumps;
    private final Map<String, ConsoleWatch> watched = new ConcurrentHashMap<>();

    ConsoleLines(Jumps jumps) {
        this.jumps = jumps;
    }

    /**
     * What the line shows to a pressed return, up to the prompt; empty where there is no line, or
     * it shows no such prompt.
     */
    Optional<String> shown(Address address, Pattern prompt) {
        ConsoleWatch watch = watched.get(address.consoleLine());
        if (watch != null && watch.isOpen()) {
            return watch.pressed(prompt, KNOCKS_FOR);
        }
        return open(address).flatMap(line -> shownAt(line, prompt));
    }

    private static Optional<String> shownAt(Line console, Pattern prompt) {
        try (Line line = console) {
            line.send("\n");
            return readTo(prompt, line);
        } catch (Line.LineEnded silent) {
            return Optional.empty();
        }
    }

    /** What came when the prompt is there; empty when nothing more comes before. */
    private static Optional<String> readTo(Pattern prompt, Line line) {
        StringBuilder seen = new StringBuilder();
        while (!prompt.matcher(seen).find()) {
            String came = line.receive(KNOCKS_FOR);
            if (came.isEmpty()) {
                return Optional.empty();
            }
            seen.append(came.replace("\r", ""));
        }
        return Optional.of(seen.toString());
    }

    /** For somebody who talks there: nobody listens to it any more. */
    Optional<Line> take(Address address) {
        return Optional.ofNullable(watched.get(address.consoleLine()))
                .flatMap(ConsoleWatch::giveAway)
                .or(() -> open(address));
    }

    /**
     * Listens to a device's console line, from now on: when this returns, the line is open, or does
     * not answer yet.
     *
     * @return empty where it has no console line that we know, or somebody listens to it already
     */
    Optional<ConsoleWatch> watch(Address address, Dialect dialect, Talk talk, Duration atMost) {
        String place = address.consoleLine();
        ConsoleWatch watch = new ConsoleWatch(() -> open(address), dialect, talk, atMost);
        if (place.isEmpty() || watched.putIfAbsent(place, watch) != null) {
            return Optional.empty();
        }
        watch.begin(() -> watched.remove(place, watch));
        return Optional.of(watch);
    }

    /** Empty where it has none that we know, or nobody answers there. */
    private Optional<Line> open(Address address) {
        try {
            if (address.consolePort() > 0) {
                return Optional.of(
                        byPort(
                                jumps.to(
                                        address.route().via(),
                                        address.host(),
                                        address.consolePort())));
            }
            if (address.route().console().isPresent()) {
                Stop stop = address.route().console().get();
                return Optional.of(
                        byServer(
                                jumps.open(stop, new InetSocketAddress(stop.host(), stop.port()))));
            }
            return Optional.empty();
        } catch (IOException | DeviceTrouble silent) {
            return Optional.empty();
        }
    }

    /**
     * A silent console is looked at again and again: nothing of a way that leads nowhere may stay
     * open.
     */
    private static Line byPort(Jumps.Tunnel way) throws IOException {
        try {
            return new SocketLine(SocketLine.knock(way.end(), KNOCKS_FOR), way);
        } catch (IOException silent) {
            way.close();
            throw silent;
        }
    }

    private static Line byServer(ClientSession session) throws IOException {
        try {
            return new SshLine(session, KNOCKS_FOR);
        } catch (IOException silent) {
            session.close(true);
            throw silent;
        }
    }

    @Override
    public void close() {
        watched.values().forEach(ConsoleWatch::close);
    }
}
