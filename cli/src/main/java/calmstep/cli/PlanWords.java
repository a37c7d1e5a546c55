package calmstep.cli;

import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/** A plan as the client tells it. */
final class PlanWords {
    private PlanWords() {}

    static String words(JsonNode p) {
        StringBuilder text =
                new StringBuilder(
                        "%s  %s, to %s   written by %s %s%s%n"
                                .formatted(
                                        p.path("name").asString(),
                                        p.path("state").asString(),
                                        p.path("target").asString() + wayWanted(p),
                                        p.path("writtenBy").asString(),
                                        Ago.of(p.path("writtenAt")),
                                        p.path("approvedBy").isNull()
                                                ? ""
                                                : ", approved by "
                                                        + p.path("approvedBy").asString()));
        p.path("units")
                .forEach(
                        u ->
                                text.append('\n')
                                        .append(
                                                Output.paragraph(
                                                        "  " + u.path("device").asString() + "  ",
                                                        unit(u)))
                                        .append(moves(u)));
        text.append(p.path("findings").isEmpty() ? "\n  No findings.\n" : "\n  Findings:\n");
        p.path("findings").forEach(f -> text.append(finding(f)));
        if (!p.path("changes").isEmpty()) {
            text.append("\n  Stale: worked out now, it would come out otherwise.\n");
            p.path("changes")
                    .forEach(
                            c ->
                                    text.append(
                                            Output.paragraph(
                                                    "  - ",
                                                    c.asString()
                                                            + (c.asString().endsWith(".")
                                                                    ? ""
                                                                    : "."))));
            text.append(
                    "  Work it out again with: calmstep plan again %s%n"
                            .formatted(p.path("name").asString()));
        }
        return text.toString();
    }

    /** Where it is not the best path by the usual measure. */
    private static String wayWanted(JsonNode p) {
        String prefer = p.path("prefer").asString("fewest-restarts");
        int alternative = p.path("alternative").asInt(0);
        return (prefer.equals("fewest-restarts") ? "" : ", " + prefer)
                + (alternative == 0 ? "" : ", alternative " + alternative)
                + (p.path("roles").asString("").equals("as-before") ? ", roles as before" : "");
    }

    /** A plan that was just worked out; what bars it is an exit code too. */
    static String unit(JsonNode u) {
        String way = way(u);
        String serves =
                u.path("serves").asString("").isEmpty() ? "" : ": " + u.path("serves").asString();
        String decided = decided(u);
        String behind = behind(u);
        return "%s > %s, %s, %s dark%s%s%s"
                .formatted(
                        u.path("from").asString(),
                        way,
                        restarts(u.path("restarts").asInt()),
                        Output.minutes(u.path("darkSeconds").asLong()),
                        serves,
                        behind,
                        decided);
    }

    static String decided(JsonNode u) {
        String decided =
                u.path("leftOut").asBoolean()
                        ? "; left out"
                        : u.path("saveFirst").asBoolean() ? "; saves unsaved changes first" : "";
        return decided;
    }

    static String behind(JsonNode u) {
        int cut = u.path("cutsOff").size();
        String behind =
                cut == 0
                        ? ""
                        : "; cuts off %s other %s".formatted(cut, cut == 1 ? "device" : "devices");
        return behind;
    }

    static String way(JsonNode u) {
        String way =
                u.path("hops")
                        .valueStream()
                        .map(h -> h.path("hop").path("to").asString())
                        .collect(Collectors.joining(" > "));
        return way;
    }

    /** The moves inside a unit of several, in words. */
    static String moves(JsonNode u) {
        StringBuilder text = new StringBuilder();
        u.path("order").path("moves").forEach(m -> addMove(m, text));
        u.path("order")
                .path("barred")
                .forEach(b -> text.append(Output.paragraph("    not one by one: ", b.asString())));
        return text.toString();
    }

    static void addMove(JsonNode m, StringBuilder text) {
        text.append(
                Output.paragraph(
                        "    - ",
                        m.path("sentence").asString()
                                + (m.path("darkSeconds").asLong() > 0
                                        ? "; dark for "
                                                + Output.minutes(m.path("darkSeconds").asLong())
                                        : "")));
    }

    static String restarts(int count) {
        return count == 1 ? "1 restart" : count + " restarts";
    }

    static String finding(JsonNode f) {
        String head =
                Output.paragraph(
                        "  %-8s ".formatted(f.path("severity").asString()),
                        (f.path("fact").asString() + " " + f.path("remedy").asString()).strip());
        if (!f.path("answer").isNull()) {
            return head
                    + "           acknowledged: %s, by %s%n"
                            .formatted(
                                    f.path("answer").path("choice").asString(),
                                    f.path("answer").path("by").asString());
        }
        return f.path("choices").isEmpty() ? head : toSay(head, f);
    }

    static String toSay(String head, JsonNode f) {
        return head
                + "           %s: %s%n"
                        .formatted(
                                f.path("key").asString(),
                                f.path("choices")
                                        .valueStream()
                                        .map(JsonNode::asString)
                                        .collect(Collectors.joining(" or ")));
    }
}
