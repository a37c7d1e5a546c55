package calmstep.cli;

import java.util.Comparator;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "reach",
        description =
                "Who loses the network when something restarts: the single points of the fleet, or"
                        + " what these devices cut off while they are down.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Examples, on the demo:",
            "  calmstep fleet reach",
            "  calmstep fleet reach rt-carrow-sound-1 rt-dunmere-1"
        })
final class ReachCommand implements Callable<Integer> {
    @Mixin Common common = new Common();

    @Parameters(paramLabel = "DEVICE", arity = "0..*")
    List<String> devices = List.of();

    @Override
    public Integer call() {
        return devices.isEmpty() ? singlePoints() : dark();
    }

    private int singlePoints() {
        JsonNode network = common.service().get("/api/reach");
        List<JsonNode> points =
                network.path("nodes")
                        .valueStream()
                        .filter(n -> !n.path("cutOff").isEmpty())
                        .sorted(
                                Comparator.comparing((JsonNode n) -> -n.path("cutOff").size())
                                        .thenComparing(n -> n.path("device").asString()))
                        .toList();
        Table table =
                new Table()
                        .column("device", 0)
                        .column("site", 1)
                        .column("steps away", 3)
                        .column("cuts off", 0)
                        .column("first of them", 2);
        points.forEach(
                n ->
                        table.row(
                                n.path("device").asString(),
                                n.path("site").asString(),
                                n.path("layer").asString(""),
                                n.path("cutOff").size(),
                                n.path("cutOff")
                                                .valueStream()
                                                .limit(3)
                                                .map(JsonNode::asString)
                                                .collect(Collectors.joining(", "))
                                        + (n.path("cutOff").size() > 3 ? " …" : "")));
        common.out()
                .print(
                        network,
                        table,
                        network.path("nodes")
                                        .valueStream()
                                        .noneMatch(n -> n.path("root").asBoolean())
                                ? "No device is a root, so nobody can say who is cut off. Mark"
                                      + " where services sit with \"root: true\" in the inventory,"
                                      + " and name the links."
                                : "No device cuts anything off by itself.");
        tellMore(network, points);
        return 0;
    }

    private void tellMore(JsonNode network, List<JsonNode> points) {
        if (common.out().isForPeople()) {
            List<String> groups =
                    network.path("standIns")
                            .valueStream()
                            .map(
                                    group ->
                                            group.valueStream()
                                                    .map(JsonNode::asString)
                                                    .collect(Collectors.joining(" and ")))
                            .toList();
            if (!groups.isEmpty()) {
                System.out.print(
                        "\n"
                                + Output.paragraph(
                                        "Stand in for each other, never in work together: ",
                                        String.join("; ", groups) + "."));
            }
            network.path("contradictions")
                    .forEach(
                            c ->
                                    System.out.print(
                                            "\n"
                                                    + Output.paragraph(
                                                            "Differs: ", c.asString() + ".")));
            network.path("unknown")
                    .forEach(u -> System.err.println("Not known here: " + u.asString() + "."));
            if (!network.path("unreached").isEmpty() && !points.isEmpty()) {
                System.err.print(
                        Output.paragraph(
                                "Without a way to a root: ",
                                network.path("unreached")
                                                .valueStream()
                                                .map(JsonNode::asString)
                                                .collect(Collectors.joining(", "))
                                        + "."));
            }
        }
    }

    private int dark() {
        JsonNode dark =
                common.service()
                        .get(
                                "/api/reach/dark?down="
                                        + devices.stream()
                                                .map(Service::encode)
                                                .collect(Collectors.joining("&down=")));
        String cut =
                dark.path("cutOff").isEmpty()
                        ? "nothing else"
                        : "%s %s: %s"
                                .formatted(
                                        dark.path("cutOff").size(),
                                        dark.path("cutOff").size() == 1 ? "device" : "devices",
                                        list(dark.path("cutOff")));
        common.out()
                .print(
                        dark,
                        Output.paragraph("While down:      ", list(dark.path("down")))
                                + Output.paragraph("Cut off besides: ", cut)
                                + Output.paragraph(
                                        "Without network: ",
                                        dark.path("serves").isEmpty()
                                                ? "nobody wrote down who stands behind them"
                                                : dark.path("serves")
                                                        .valueStream()
                                                        .map(JsonNode::asString)
                                                        .collect(Collectors.joining("; ")))
                                + (devices.size() < 2
                                        ? ""
                                        : Output.paragraph(
                                                "Far edge first:  ",
                                                dark.path("order")
                                                        .valueStream()
                                                        .map(JsonNode::asString)
                                                        .collect(Collectors.joining(", then ")))));
        return 0;
    }

    private static String list(JsonNode names) {
        return names.valueStream().map(JsonNode::asString).collect(Collectors.joining(", "));
    }
}
