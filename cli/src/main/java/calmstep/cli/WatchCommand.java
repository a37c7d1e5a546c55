package calmstep.cli;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@Command(
        name = "watch",
        description =
                "Follow a run until it is finished or every unit left in it waits for a person.",
        mixinStandardHelpOptions = true)
final class WatchCommand implements Callable<Integer> {
    private static final int PATIENCE = 120;

    @Mixin Common common = new Common();

    @Parameters(paramLabel = "RUN")
    String name = "";

    @Option(
            names = "--until-gate",
            description = "end as soon as only people can take it further: at gates too")
    boolean untilGate;

    @Override
    public Integer call() throws InterruptedException {
        Service service = common.service();
        long last = printAfter(service, 0);
        int tries = 0;
        while (true) {
            try {
                JsonNode run =
                        service.get("/api/runs/%s?since=%s".formatted(Service.encode(name), last));
                if (isOver(run)) {
                    printAfter(service, last);
                    return RunWords.exitCode(run);
                }
                last = follow(service, last, run.path("id").asLong());
                tries = 0;
            } catch (Problem lost) {
                if (lost.exitCode() != Problem.NOT_REACHABLE || ++tries > PATIENCE) {
                    throw lost;
                }
                if (tries == 1) {
                    System.err.println(
                            "The service does not answer just now; what is under way goes on when"
                                    + " it is back. Still trying …");
                }
                Thread.sleep(500);
            }
        }
    }

    /** Prints the run's events behind one; gives the last. */
    private long printAfter(Service service, long after) {
        long last = after;
        for (JsonNode event : service.get("/api/runs/%s/events".formatted(Service.encode(name)))) {
            if (event.path("id").asLong() > after) {
                print(event);
                last = event.path("id").asLong();
            }
        }
        return last;
    }

    private boolean isOver(JsonNode run) {
        if (run.path("state").asString().equals("finished")
                || run.path("state").asString().equals("abandoned")) {
            return true;
        }
        List<String> still =
                run.path("units")
                        .valueStream()
                        .filter(
                                u ->
                                        RunWords.isDoubtful(u)
                                                || List.of("stuck", "held")
                                                        .contains(u.path("state").asString()))
                        .map(u -> u.path("device").asString())
                        .toList();
        return run.path("units")
                .valueStream()
                .allMatch(
                        u ->
                                waitsForAPerson(u.path("state").asString())
                                        || RunWords.isDoubtful(u)
                                        || waitsFor(u, still)
                                        || (untilGate
                                                && !u.path("gate").isNull()
                                                && !u.path("gate").path("open").asBoolean()));
    }

    /** It begins when those are out of work, and a person has to see to that. */
    private static boolean waitsFor(JsonNode unit, List<String> still) {
        String why = unit.path("turn").path("waitsFor").asString("");
        return why.contains(" in work;")
                && still.stream().anyMatch(one -> List.of(why.split("[ ,;]+")).contains(one));
    }

    static boolean waitsForAPerson(String state) {
        return List.of("settled", "returned", "set-aside", "stuck", "held").contains(state);
    }

    /** Prints what happens; returns when something of this run's state may have changed. */
    private long follow(Service service, long after, long runId) {
        long last = after;
        try (BufferedReader lines =
                new BufferedReader(
                        new InputStreamReader(service.follow(after), StandardCharsets.UTF_8))) {
            for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                if (!line.startsWith("data:")) {
                    continue;
                }
                JsonNode event = JsonMapper.shared().readTree(line.substring(5));
                last = event.path("id").asLong();
                if (event.path("runId").asLong(-1) == runId) {
                    print(event);
                    String kind = event.path("kind").asString();
                    if (kind.equals("run") || kind.equals("gate") || kind.equals("unit")) {
                        return last;
                    }
                }
            }
        } catch (IOException lost) {
            return last;
        }
        return last;
    }

    private void print(JsonNode event) {
        System.out.print(
                common.out().isForPeople()
                        ? Output.paragraph(
                                Ago.clock(event.path("at")) + "  ", event.path("text").asString())
                        : event + "\n");
    }
}
