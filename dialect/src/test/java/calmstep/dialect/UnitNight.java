package calmstep.dialect;

import calmstep.check.Await;
import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.plan.WayWanted;
import calmstep.core.step.Around;
import calmstep.core.step.Evidence;
import calmstep.core.step.Feeder;
import calmstep.core.step.Hope;
import calmstep.core.step.Intent;
import calmstep.core.step.Journal;
import calmstep.core.step.Next;
import calmstep.core.step.Scene;
import calmstep.core.step.StepName;
import calmstep.core.step.StepOutcome;
import calmstep.core.step.StepRecord;
import calmstep.core.step.StepRunner;
import calmstep.core.step.StepState;
import calmstep.core.step.UnitMachine;
import calmstep.core.step.UnitPlan;
import calmstep.practice.PracticeFleet;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * One unit of the demo's fleet, its real plan, and the steps played on its stand-in as the service
 * plays them: over SSH, with bytes from an HTTP server.
 */
final class UnitNight implements AutoCloseable {
    private static final int SSH = 18724;
    private static final int CONSOLE = 18725;
    private static final int HTTPS = 18726;
    private static final int SNMP = 18727;
    private static final Map<String, Dialect> DIALECTS = new ConcurrentHashMap<>();
    private static final AtomicInteger NETS = new AtomicInteger();
    private static final Map<String, Catalogue> CATALOGUES = new ConcurrentHashMap<>();
    private static final int USUAL_PACE = 600;

    /** What happens in the middle of something lasts long enough to be seen on a busy machine. */
    private static final int SLOWER_PACE = 100;

    final PracticeFleet fleet;
    final List<String> talk = new ArrayList<>();
    final List<String> told = new ArrayList<>();
    final UnitPlan plan;
    private final String name;
    private final int pace;
    private final Optional<String> base;
    private final Catalogue catalogue;
    private final Dialect dialect;
    private final Doors doors = new Doors(Clock.systemUTC(), StopKeys.NONE);
    private final HttpServer shelf;
    private final Ports ports;
    private final Map<String, Intent> intents = new HashMap<>();
    private final Map<Integer, Reading> before = new HashMap<>();
    private final BackupsInMemory backups = new BackupsInMemory();
    private List<StepRecord> rows;
    private Struck struck = new Struck() {};
    private String awaited = "";
    private Runnable then = () -> {};
    private Optional<Trouble> trouble = Optional.empty();

    private record Ports(String address) {}

    /** Each night has a net of its own: nights of several classes are played beside each other. */
    private static int ownNet() {
        return 100 + NETS.getAndIncrement() % 100;
    }

    /**
     * Whoever disturbs it: each is called where the service writes down that a step begins its
     * look, its act, its proof.
     */
    interface Struck {
        default void looking(StepRecord step) {}

        default void acting(StepRecord step) {}

        default void proving(StepRecord step) {}
    }

    /** The service ends here, and begins anew with what was written down. */
    static final class Died extends RuntimeException {
        private static final long serialVersionUID = 1L;
    }

    void struckBy(Struck by) {
        struck = by;
    }

    /**
     * @param fleetFile of the demo; only this machine of it is played, with the base that feeds it
     */
    UnitNight(Path folder, String family, String fleetFile, String name, String target)
            throws IOException {
        this(folder, family, fleetFile, name, target, Optional.empty());
    }

    static UnitNight slower(
            Path folder, String family, String fleetFile, String name, String target)
            throws IOException {
        return new UnitNight(
                folder,
                family,
                fleetFile,
                name,
                target,
                WayWanted.BEST,
                Optional.empty(),
                SLOWER_PACE);
    }

    /**
     * @param way that its plan wants
     */
    UnitNight(
            Path folder, String family, String fleetFile, String name, String target, WayWanted way)
            throws IOException {
        this(folder, family, fleetFile, name, target, way, Optional.empty(), USUAL_PACE);
    }

    /**
     * @param medium that somebody says is plugged in
     */
    UnitNight(
            Path folder,
            String family,
            String fleetFile,
            String name,
            String target,
            Optional<String> medium)
            throws IOException {
        this(folder, family, fleetFile, name, target, WayWanted.BEST, medium, USUAL_PACE);
    }

    private UnitNight(
            Path folder,
            String family,
            String fleetFile,
            String name,
            String target,
            WayWanted way,
            Optional<String> medium,
            int pace)
            throws IOException {
        this.name = name;
        this.pace = pace;
        DemoFiles.makeImages();
        String all = Files.readString(DemoFiles.DEMO.resolve(fleetFile));
        Matcher fed =
                Pattern.compile("\\n    fed-by: (\\S+)\n").matcher(DemoFiles.machine(name, all));
        base = fed.find() ? Optional.of(fed.group(1)) : Optional.empty();
        String alone =
                (head(all)
                                + DemoFiles.machine(name, all)
                                + base.map(feeder -> DemoFiles.machine(feeder, all)).orElse(""))
                        .replace("127.40.", "127.%s.".formatted(ownNet()))
                        .replace("snmp: v2c", "snmp: none");
        fleet =
                PracticeFleet.play(
                        Files.writeString(
                                Files.createDirectories(folder).resolve("fleet.yaml"), alone),
                        DemoFiles.IMAGES,
                        folder.resolve("state"),
                        Optional.of(pace));
        ports = new Ports(fleet.machine(name).description().address());
        dialect = dialectOf(family);
        catalogue =
                CATALOGUES.computeIfAbsent(
                        family,
                        one ->
                                CatalogueText.read(
                                        one, DemoFiles.text("catalogue/%s.yaml".formatted(one))));
        shelf = HttpServer.create(new InetSocketAddress(ports.address(), 0), 0);
        shelf.createContext("/", UnitNight::serve);
        shelf.start();
        Reading reading;
        try (Door door = door()) {
            reading = door.session().read();
        }
        plan =
                DemoFiles.draft(
                        reading,
                        name,
                        ports.address(),
                        SSH,
                        catalogue,
                        dialect,
                        target,
                        way,
                        medium);
        rows = UnitMachine.start(plan);
    }

    private static Dialect dialectOf(String family) {
        // A datagram that is lost is sent again when this time is over; what is near answers
        // sooner.
        return DIALECTS.computeIfAbsent(
                family,
                one ->
                        DialectText.read(
                                one,
                                DemoFiles.text("dialects/%s.yaml".formatted(one))
                                        .replace("answers-within: 10 s", "answers-within: 1 s")));
    }

    private static void serve(HttpExchange exchange) throws IOException {
        byte[] bytes =
                Files.readAllBytes(
                        DemoFiles.IMAGES.resolve(exchange.getRequestURI().getPath().substring(1)));
        boolean head = exchange.getRequestMethod().equals("HEAD");
        exchange.sendResponseHeaders(200, head ? -1 : bytes.length);
        if (!head) {
            exchange.getResponseBody().write(bytes);
        }
        exchange.close();
    }

    private static String head(String fleet) {
        int machines = fleet.indexOf("\nmachines:");
        return "practice-fleet: 1\npace: 60\nssh-port: %s\nconsole-port: %s\nhttps-port: %s\n"
                        .formatted(SSH, CONSOLE, HTTPS)
                + "snmp: { port: %s, community: reads, user: watcher, password: practice-only-7714, privacy-password: practice-only-8830 }\n"
                        .formatted(SNMP)
                + fleet.substring(machines, machines + "\nmachines:\n".length());
    }

    Door door() {
        return door(dialect, "");
    }

    private Door doorOfBase(String feeder) {
        return door(dialect, "", feeder, address(feeder));
    }

    private String address(String machine) {
        return fleet.machine(machine).description().address();
    }

    /** To a device that must show this host key or certificate. */
    Door door(String hostKey) {
        return door(dialect, hostKey);
    }

    /** Through another dialect than its family's. */
    Door door(Dialect other) {
        return door(other, "");
    }

    private Door door(Dialect spoken, String hostKey) {
        return door(spoken, hostKey, name, address(name));
    }

    private Door door(Dialect spoken, String hostKey, String machine, String address) {
        int port =
                switch (spoken.over()) {
                    case SSH -> SSH;
                    case HTTPS -> HTTPS;
                    case SNMP -> SNMP;
                };
        Secret secret =
                spoken.over() == Dialect.Carrier.SNMP
                        ? new SnmpLogin.User(
                                "watcher",
                                SnmpLogin.Authentication.SHA256,
                                "practice-only-7714",
                                SnmpLogin.Privacy.AES128,
                                "practice-only-8830")
                        : new SshSecret.Password("practice-only-5521");
        return doors.to(
                new Doors.Address(
                        machine,
                        address,
                        port,
                        CONSOLE,
                        List.of(new Doors.Login("steward", "steward", secret)),
                        hostKey),
                spoken,
                new Talk() {
                    @Override
                    public void typed(String text) {
                        talk.add("typed " + text);
                    }

                    @Override
                    public void answered(String text) {
                        talk.add(text);
                    }
                });
    }

    Reading read() {
        try (Door door = door()) {
            return door.session().read();
        }
    }

    Optional<Trouble> trouble() {
        return trouble;
    }

    String story() {
        return String.join("\n", told);
    }

    /** Plays until the unit is settled or stuck. */
    String play() throws InterruptedException {
        for (int round = 0; round < 4000; round++) {
            switch (UnitMachine.next(
                    plan,
                    rows,
                    new UnitMachine.Leave(true, List.of(), 0),
                    Clock.systemUTC().instant())) {
                case Next.Carry(StepRecord record) -> carry(record);
                case Next.Settled() -> {
                    return "settled";
                }
                case Next.Stuck(StepRecord record) -> {
                    return "stuck at " + record.name();
                }
                case Next.AtGate _, Next.Begin _, Next.NotYet _, Next.Missed _, Next.Doubtful _ ->
                        throw new AssertionError("the gate is open, and it has no turns");
            }
        }
        throw new AssertionError("not over: " + story());
    }

    private void carry(StepRecord record) throws InterruptedException {
        int index = rows.indexOf(record);
        String key = record.hop() + " " + record.name();
        try (Door door = door();
                Door ofBase = base.map(this::doorOfBase).orElseGet(this::door)) {
            Optional<Feeder> feeder = base.map(one -> new Feeder(one, address(one), ofBase));
            StepOutcome outcome =
                    new StepRunner(Clock.systemUTC())
                            .carry(
                                    record.name(),
                                    scene(record, door, feeder),
                                    journal(index, record));
            finish(index, record, outcome);
        } catch (Died died) {
            told.add("%s: the service died".formatted(key));
        }
    }

    private Scene scene(StepRecord record, Door door, Optional<Feeder> feeder) {
        UnitPlan.HopPlan hop = plan.hop(record.hop());
        String key = record.hop() + " " + record.name();
        String restart = record.hop() + " " + hop.restartBefore(record.name());
        return new Scene(
                plan,
                hop,
                record.detour(),
                door,
                feeder,
                backups,
                DemoFiles.servedAt(ports.address(), shelf.getAddress().getPort()),
                record.counts(Optional.ofNullable(intents.get(key))),
                Optional.ofNullable(intents.get(restart)),
                Scene.Drained.of(
                        rows.stream().filter(row -> row.hop() == record.hop()).toList(),
                        row -> intents.containsKey(row.hop() + " " + row.name())),
                Optional.ofNullable(before.get(record.hop())),
                Optional.ofNullable(before.get(1)),
                Optional.empty(),
                Clock.systemUTC().instant(),
                pace,
                new Around(
                        Optional.empty(),
                        Around.NOTHING.checks(),
                        Duration.ZERO,
                        false,
                        told::add,
                        List::of),
                dialect::compare);
    }

    private Journal journal(int index, StepRecord record) {
        String key = record.hop() + " " + record.name();
        return new Journal() {
            @Override
            public void looking() {
                StepRecord row = rows.get(index);
                set(
                        index,
                        new StepRecord(
                                row.hop(),
                                row.name(),
                                StepState.LOOKING,
                                row.state() == StepState.LOOKING
                                        ? row.attempts()
                                        : row.attempts() + 1));
                struck.looking(record);
            }

            @Override
            public void acting(Intent intent, String expected, String seen) {
                told.add("%s: %s, since %s".formatted(key, expected, seen));
                set(index, rows.get(index).with(StepState.ACTING));
                intents.put(key, intent);
                struck.acting(record);
            }

            @Override
            public void proving() {
                set(index, rows.get(index).with(StepState.PROVING));
                struck.proving(record);
            }
        };
    }

    /** Once, when something is told that holds these words. */
    void when(String words, Runnable happens) {
        awaited = words;
        then = happens;
    }

    private void tell(String seen) {
        if (told.isEmpty() || !told.getLast().equals(seen)) {
            told.add(seen);
        }
        if (!awaited.isEmpty() && seen.contains(awaited)) {
            awaited = "";
            then.run();
        }
    }

    private void set(int index, StepRecord row) {
        rows = new ArrayList<>(rows);
        rows.set(index, row);
    }

    private void finish(int index, StepRecord record, StepOutcome outcome)
            throws InterruptedException {
        switch (outcome) {
            case StepOutcome.Done(String _, String seen, Evidence evidence) -> {
                told.add("%s %s done: %s".formatted(record.hop(), record.name(), seen));
                set(index, rows.get(index).with(StepState.DONE));
                if (record.name() == StepName.CHECK) {
                    evidence.reading().ifPresent(reading -> before.put(record.hop(), reading));
                }
            }
            case StepOutcome.NotNeeded(String seen) -> {
                told.add("%s %s not needed: %s".formatted(record.hop(), record.name(), seen));
                set(index, rows.get(index).with(StepState.NOT_NEEDED));
            }
            case StepOutcome.Waiting(String seen, var _) -> {
                tell(seen);
                set(index, rows.get(index).with(StepState.LOOKING));
                Await.pass(Duration.ofMillis(30), "what the device needs");
            }
            case StepOutcome.Failed(Trouble failed, Hope hope) -> {
                told.add(
                        "%s %s failed: %s"
                                .formatted(record.hop(), record.name(), failed.sentence()));
                trouble = Optional.of(failed);
                rows = UnitMachine.afterFailure(rows, rows.get(index), hope, plan.giveUpAfter());
                Await.pass(
                        hope.pause(rows.get(index).attempts()).dividedBy(pace),
                        "a step is tried again");
            }
        }
    }

    /** A stuck step is tried again, as a person would order it. */
    void retry() {
        rows.stream()
                .filter(row -> row.state() == StepState.FAILED && row.name().mayBeginAnew())
                .forEach(row -> intents.remove(row.hop() + " " + row.name()));
        rows =
                rows.stream()
                        .map(row -> row.state() == StepState.FAILED ? row.with(StepState.DUE) : row)
                        .toList();
    }

    @Override
    public void close() {
        shelf.stop(0);
        doors.close();
        fleet.close();
    }
}
