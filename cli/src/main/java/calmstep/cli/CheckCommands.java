package calmstep.cli;

import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Checks of one's own: what is tried before and after a device is changed. */
@Command(
        name = "checks",
        description =
                "Checks of your own, tried before and after a device is changed: what people use"
                        + " through it.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Without more, tells them. Example, on the demo:",
            "  calmstep fleet checks rt-dunmere-1 --set \"tills: port 192.0.2.10:443\" --set"
                    + " \"board: page http://192.0.2.12/ shows Next sailing\"",
            "Checks: NAME: ping ADDRESS; port ADDRESS:PORT; page URL shows TEXT; name HOST is"
                    + " ADDRESS at SERVER;",
            "reach URL (the device itself is asked); count KIND STATE at least NUMBER (of what its"
                    + " reading shows)."
        })
final class CheckCommands implements Callable<Integer> {
    @Mixin Common common = new Common();

    @Parameters(paramLabel = "DEVICE", arity = "0..1")
    String device = "";

    @Option(names = "--set", paramLabel = "CHECK", description = "these, and no others from now on")
    List<String> set = List.of();

    @Option(names = "--none", description = "no checks any more")
    boolean none;

    @Option(names = "--try", description = "try them now")
    boolean tried;

    @Override
    public Integer call() {
        if (device.isEmpty()) {
            if (tried || none || !set.isEmpty()) {
                throw new Problem(Problem.WRONG_CALL, "Expected a device.");
            }
            return all();
        }
        String path = "/api/devices/%s/checks".formatted(Service.encode(device));
        if (none || !set.isEmpty()) {
            common.service().put(path, Map.of("checks", none ? List.of() : set));
        }
        return tried
                ? seen(common.service().post(path + "/trial", Map.of()))
                : lines(common.service().get(path));
    }

    private int all() {
        JsonNode checks = common.service().get("/api/checks");
        Table table = new Table().column("device", 0).column("check", 0);
        checks.properties()
                .forEach(
                        of ->
                                of.getValue()
                                        .forEach(line -> table.row(of.getKey(), line.asString())));
        common.out()
                .print(
                        checks,
                        table,
                        "No device has checks of your own. Give it some: calmstep fleet checks"
                                + " DEVICE --set CHECK");
        return 0;
    }

    private int lines(JsonNode checks) {
        common.out()
                .print(
                        checks,
                        checks.path("checks").isEmpty()
                                ? "%s has no checks of your own. Give it some: calmstep fleet checks %1$s --set CHECK"
                                        .formatted(device)
                                : checks.path("checks")
                                        .valueStream()
                                        .map(JsonNode::asString)
                                        .collect(Collectors.joining("\n")));
        return 0;
    }

    private int seen(JsonNode facts) {
        Table table = new Table().column("check", 0).column("seen", 0);
        facts.forEach(
                fact -> table.row(fact.path("name").asString(), fact.path("value").asString()));
        common.out().print(facts, table, "%s has no checks of your own.".formatted(device));
        return facts.valueStream().allMatch(fact -> fact.path("value").asString().equals("ok"))
                ? 0
                : Problem.STOPS;
    }
}
