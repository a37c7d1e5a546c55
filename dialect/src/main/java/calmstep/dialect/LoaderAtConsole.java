package calmstep.dialect;

import static calmstep.core.known.Known.known;

import calmstep.core.device.LoaderSession;
import calmstep.dialect.Dialect.ActCommand;
import java.net.URI;
import java.time.InstantSource;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A boot loader over a console line, in the words of a dialect. The line belongs to nobody who
 * signed in: whoever is on it talks with the loader.
 */
final class LoaderAtConsole implements LoaderSession {
    static final String LOAD = "load-into-memory";
    static final String START = "start-loaded";

    private final Dialect dialect;
    private final LineExchange exchange;
    private final DialectSession session;
    private final String address;

    /**
     * @param address of the device in its own network, which a loader does not know by itself
     */
    LoaderAtConsole(
            Dialect dialect,
            Line line,
            Talk talk,
            Doors.Address device,
            String address,
            InstantSource clock) {
        this.dialect = dialect;
        this.address = address;
        exchange =
                new LineExchange(
                        dialect, dialect.loaderPrompt().orElseThrow(), line, talk, device.name());
        session = new DialectSession(dialect, exchange, clock);
    }

    /** Presses return until the prompt is there: what somebody left half typed is gone with it. */
    LoaderAtConsole greeted() {
        exchange.command("", List.of(), dialect.answersWithin(), false);
        return this;
    }

    @Override
    public Optional<String> load(URI source) {
        return session.carryOut(LOAD, Map.of("source", source.toString(), "address", address));
    }

    @Override
    public void startLoaded() {
        List<ActCommand> commands = known(dialect.acts(), START);
        commands.subList(0, commands.size() - 1)
                .forEach(
                        command ->
                                exchange.command(
                                        command.send(),
                                        command.answers(),
                                        command.within(),
                                        false));
        ActCommand last = commands.getLast();
        exchange.lastCommand(last.send(), last.within(), last.expect());
    }

    @Override
    public void close() {
        exchange.close();
    }
}
