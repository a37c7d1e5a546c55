package calmstep.cli;

import java.util.List;
import tools.jackson.databind.JsonNode;

/** A run as the client tells it. */
final class RunWords {
    /** What is left of a line behind hop, step and state; the record holds the whole. */
    static final int SEEN_WIDTH = 58;

    private RunWords() {}

    static String words(JsonNode r) {
        StringBuilder text =
                new StringBuilder(
                        "%s  %s   started %s by %s%s%n"
                                .formatted(
                                        r.path("name").asString(),
                                        r.path("state").asString(),
                                        Ago.date(r.path("startedAt")),
                                        r.path("startedBy").asString(),
                                        r.path("finishedAt").isNull()
                                                ? ""
                                                : ", finished " + Ago.date(r.path("finishedAt"))));
        if (!r.path("heldWhy").asString("").isEmpty()) {
            text.append(Output.paragraph("HELD: ", r.path("heldWhy").asString() + "."))
                    .append(
                            "Let it go on: calmstep run resume %s%n"
                                    .formatted(r.path("name").asString()));
        }
        r.path("units")
                .forEach(
                        u -> {
                            text.append(
                                    "%n  %s  %s > %s   %s%n"
                                            .formatted(
                                                    u.path("device").asString(),
                                                    u.path("from").asString(),
                                                    u.path("to").asString(),
                                                    u.path("state").asString()));
                            if (!u.path("copy").isNull()) {
                                text.append("  ")
                                        .append(ShelfCommands.Copies.words(u.path("copy")))
                                        .append(System.lineSeparator());
                            }
                            Table table =
                                    new Table()
                                            .column("hop", 1)
                                            .column("step", 0)
                                            .column("state", 0)
                                            .column("seen", 3);
                            addSteps(u, table);
                            table.text()
                                    .lines()
                                    .forEach(line -> text.append("    ").append(line).append('\n'));
                            addGate(u, text, r);
                            addTurn(u, text);
                            addHeld(u, text, r);
                            addDoubt(u, text, r);
                            addTrouble(u, text, r);
                        });
        return text.toString();
    }

    static void addTrouble(JsonNode u, StringBuilder text, JsonNode r) {
        JsonNode trouble = u.path("trouble");
        boolean isAside = !u.path("setAsideWhy").isNull();
        if (isAside) {
            text.append(Output.paragraph("    set aside: ", u.path("setAsideWhy").asString()));
        }
        if (!trouble.isNull()) {
            text.append(
                            "    %s at %s%n"
                                    .formatted(
                                            isAside ? "it was stuck" : "STUCK",
                                            trouble.path("step").asString()))
                    .append(
                            Output.paragraph(
                                    "      expected: ", trouble.path("expected").asString()))
                    .append(Output.paragraph("      seen: ", trouble.path("seen").asString()));
            if (!isAside) {
                text.append(Output.paragraph("      to do: ", trouble.path("remedy").asString()));
            }
            trouble.path("lastLines")
                    .forEach(line -> text.append("      | ").append(line.asString()).append('\n'));
            trouble.path("ways")
                    .forEach(
                            way ->
                                    text.append(
                                            "      calmstep run %s %s %s%s%n"
                                                    .formatted(
                                                            way.asString(),
                                                            r.path("name").asString(),
                                                            u.path("device").asString(),
                                                            switch (way.asString()) {
                                                                case "return" ->
                                                                        " --why WHY   back "
                                                                                + trouble.path(
                                                                                                "back")
                                                                                        .asString();
                                                                case "set-aside",
                                                                        "again",
                                                                        "take-over",
                                                                        "without",
                                                                        "skip" ->
                                                                        " --why" + " WHY";
                                                                case "answer" ->
                                                                        " --say ANSWER --why WHY";
                                                                case "replace" ->
                                                                        " --serial"
                                                                                + " NUMBER"
                                                                                + " --why"
                                                                                + " WHY";
                                                                case "replace-member" ->
                                                                        " --member MEMBER"
                                                                                + " --serial NUMBER"
                                                                                + " --why WHY";
                                                                default -> "";
                                                            })));
        }
    }

    static void addDoubt(JsonNode u, StringBuilder text, JsonNode r) {
        JsonNode doubt = u.path("doubt");
        if (isDoubtful(u)) {
            text.append(
                    "    WAITS FOR YOUR JUDGEMENT. %s, and this is odd:%n"
                            .formatted(doubt.path("stands").asString()));
            doubt.path("odd")
                    .forEach(odd -> text.append(Output.paragraph("      - ", odd.asString())));
            text.append(
                    "      calmstep run accept %s %s --why WHY%n      calmstep run refuse %1$s %2$s --why WHY%n"
                            .formatted(r.path("name").asString(), u.path("device").asString()));
        } else if (!doubt.isNull()) {
            addAccepted(text, doubt);
        }
    }

    static void addAccepted(StringBuilder text, JsonNode doubt) {
        text.append(
                Output.paragraph(
                        "    ACCEPTED by %s: ".formatted(doubt.path("by").asString()),
                        "%s (%s)"
                                .formatted(
                                        doubt.path("why").asString(),
                                        String.join(
                                                "; ",
                                                doubt.path("odd")
                                                        .valueStream()
                                                        .map(JsonNode::asString)
                                                        .toList()))));
    }

    static void addHeld(JsonNode u, StringBuilder text, JsonNode r) {
        if (u.path("held").asBoolean()) {
            text.append(
                    "    HELD by a person. Let it go on: calmstep run resume %s %s%n"
                            .formatted(r.path("name").asString(), u.path("device").asString()));
        }
        if (u.path("state").asString().equals("held")) {
            text.append(
                    "    Say when: calmstep run turn %s %s --begin next-window%n"
                            .formatted(r.path("name").asString(), u.path("device").asString()));
        }
    }

    static void addTurn(JsonNode u, StringBuilder text) {
        JsonNode turn = u.path("turn");
        if (turn.path("inWork").asBoolean()) {
            text.append(
                    turn.path("outside").asString("").isEmpty()
                            ? "    In work until %s; %s.%n"
                                    .formatted(Ago.date(turn.path("closes")), likely(u))
                            : Output.paragraph(
                                    "    In work OUTSIDE ITS WINDOWS: ",
                                    turn.path("outside").asString() + "."));
        }
        if (!turn.path("waitsFor").asString("").isEmpty()) {
            text.append(Output.paragraph("    WAITS: ", turn.path("waitsFor").asString() + "."));
        }
    }

    private static String likely(JsonNode u) {
        return u.path("state").asString().equals("stuck")
                ? "it waits for a word"
                : "%s %% likely to end by then"
                        .formatted(Math.round(100 * u.path("turn").path("chance").asDouble()));
    }

    static void addGate(JsonNode u, StringBuilder text, JsonNode r) {
        JsonNode gate = u.path("gate");
        if (!gate.isNull() && !gate.path("open").asBoolean()) {
            text.append(Output.paragraph("    AT THE GATE: ", gate.path("question").asString()))
                    .append(
                            "    Say go with: calmstep run go %s %s%n"
                                    .formatted(
                                            r.path("name").asString(),
                                            u.path("device").asString()));
        }
    }

    static void addSteps(JsonNode u, Table table) {
        u.path("steps")
                .forEach(
                        s -> {
                            String seen =
                                    s.path("waiting").asString("").isEmpty()
                                            ? s.path("seen").asString("")
                                            : s.path("waiting").asString();
                            table.row(
                                    s.path("hop").asInt(),
                                    s.path("name").asString(),
                                    s.path("state").asString(),
                                    seen.length() > SEEN_WIDTH
                                            ? seen.substring(0, SEEN_WIDTH - 1) + "…"
                                            : seen);
                        });
    }

    /** Whether something odd about it waits for a person. */
    static boolean isDoubtful(JsonNode unit) {
        return !unit.path("doubt").isNull() && unit.path("doubt").path("by").isNull();
    }

    static int exitCode(JsonNode run) {
        return run.path("units")
                        .valueStream()
                        .anyMatch(
                                u ->
                                        List.of("stuck", "returned", "set-aside")
                                                .contains(u.path("state").asString()))
                ? Problem.STOPS
                : 0;
    }
}
