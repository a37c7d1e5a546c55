package calmstep.cli;

import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/** A plan's nights as the client tells them. */
final class NightWords {
    static final DateTimeFormatter CLOCK = DateTimeFormatter.ofPattern("HH:mm", Locale.ROOT);
    static final DateTimeFormatter DAY_AND_CLOCK =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm", Locale.ROOT);

    private static final int MOST_NAMED = 8;

    private NightWords() {}

    static String clock(JsonNode at, String zone, DateTimeFormatter how) {
        return at.isNull() ? "" : Instant.parse(at.asString()).atZone(ZoneId.of(zone)).format(how);
    }

    static String zoneOf(JsonNode night) {
        return night.path("units").path(0).path("zone").asString("UTC");
    }

    static String counted(long count, String one, String many) {
        return count + " " + (count == 1 ? one : many);
    }

    static String words(JsonNode plan) {
        JsonNode nights = plan.path("nights");
        long units =
                nights.valueStream()
                        .flatMap(n -> n.path("units").valueStream())
                        .map(u -> u.path("unit").asString())
                        .distinct()
                        .count();
        String zone = nights.isEmpty() ? "UTC" : zoneOf(nights.path(nights.size() - 1));
        StringBuilder text = head(nights, plan, units, zone);
        if (!plan.path("pinned").isEmpty()) {
            text.append(
                    Output.paragraph(
                            "  Pinned: ",
                            plan.path("pinned").properties().stream()
                                            .map(p -> p.getKey() + " to " + p.getValue().asString())
                                            .collect(Collectors.joining(", "))
                                    + "."));
        }
        if (!plan.path("excluded").isEmpty()) {
            text.append(
                    Output.paragraph(
                            "  Excluded: ",
                            plan.path("excluded")
                                            .valueStream()
                                            .map(JsonNode::asString)
                                            .collect(Collectors.joining(", "))
                                    + "."));
        }
        if (!nights.isEmpty()) {
            text.append('\n').append(overview(nights).text());
        }
        if (!plan.path("nowhere").isEmpty()) {
            text.append("\n  Fits nowhere:\n");
            plan.path("nowhere")
                    .forEach(
                            n ->
                                    text.append(
                                            Output.paragraph(
                                                    "  %s  ".formatted(n.path("unit").asString()),
                                                    n.path("sentence").asString())));
        }
        return text.toString();
    }

    static StringBuilder head(JsonNode nights, JsonNode plan, long units, String zone) {
        StringBuilder text =
                new StringBuilder(
                        nights.isEmpty()
                                ? "%s: no window holds anything of it.%n"
                                        .formatted(plan.path("plan").asString())
                                : summary(plan, units, nights, zone));
        return text;
    }

    static String summary(JsonNode plan, long units, JsonNode nights, String zone) {
        return Output.paragraph(
                plan.path("plan").asString() + "  ",
                "%s in %s (at least %s), begins with %s, ends %s %s"
                        .formatted(
                                counted(units, "unit", "units"),
                                counted(nights.size(), "night", "nights"),
                                plan.path("nightsAtLeast").asInt(),
                                plan.path("begins").asString(),
                                clock(plan.path("ends"), zone, DAY_AND_CLOCK),
                                zone));
    }

    static Table overview(JsonNode nights) {
        Table table =
                new Table()
                        .column("night", 0)
                        .column("parts", 1)
                        .column("sites", 2)
                        .column("begins", 3)
                        .column("likely end", 4)
                        .column("9 of 10 by", 5)
                        .column("in time", 1)
                        .column("clock", 6);
        nights.forEach(n -> addNight(n, table));
        return table;
    }

    static void addNight(JsonNode n, Table table) {
        String zone = zoneOf(n);
        table.row(
                n.path("night").asString(),
                n.path("units").size(),
                n.path("units")
                        .valueStream()
                        .map(u -> u.path("siteTitle").asString())
                        .distinct()
                        .count(),
                clock(n.path("begins"), zone, CLOCK),
                clock(n.path("median"), zone, CLOCK),
                clock(n.path("p90"), zone, CLOCK),
                chance(n),
                zone);
    }

    /** One night: who, when and why, what is dark. */
    static String words(JsonNode night, boolean why) {
        String zone = zoneOf(night);
        StringBuilder text = nightHead(night, zone);
        Table table =
                new Table()
                        .column("from", 0)
                        .column("to", 0)
                        .column("unit", 0)
                        .column("site", 3)
                        .column("pilot", 1)
                        .column("part", 1)
                        .column("releases", 1)
                        .column("in time", 2)
                        .column("window", 5)
                        .column("clock", 4);
        night.path("units").forEach(u -> addPart(u, table));
        text.append(table.text());
        if (!night.path("decides").asString().isEmpty()) {
            text.append('\n')
                    .append(
                            Output.paragraph(
                                    "  Decides: ", night.path("decides").asString() + "."));
        }
        night.path("units").forEach(u -> text.append(outside(u)));
        if (!night.path("serves").isEmpty()) {
            text.append(
                    Output.paragraph("  Dark at some time: ", some(night.path("serves"), "; ")));
        }
        if (!night.path("cutsOff").isEmpty()) {
            text.append(
                    Output.paragraph("  Cut off meanwhile: ", some(night.path("cutsOff"), ", ")));
        }
        if (why) {
            text.append("\n  Why not earlier:\n");
            night.path("units")
                    .valueStream()
                    .filter(u -> u.path("heldBack").asBoolean())
                    .forEach(
                            u ->
                                    text.append(
                                            Output.paragraph(
                                                    "  %s %s  "
                                                            .formatted(
                                                                    clock(
                                                                            u.path("begins"),
                                                                            u.path("zone")
                                                                                    .asString(),
                                                                            CLOCK),
                                                                    u.path("unit").asString()),
                                                    u.path("why").asString() + ".")));
        }
        return text.toString();
    }

    private static String outside(JsonNode u) {
        String why = u.path("outside").asString("");
        return why.isEmpty()
                ? ""
                : Output.paragraph(
                        "  OUTSIDE ITS WINDOWS: ",
                        "%s: %s.".formatted(u.path("unit").asString(), why));
    }

    static void addPart(JsonNode u, Table table) {
        table.row(
                clock(u.path("begins"), u.path("zone").asString(), CLOCK),
                clock(u.path("ends"), u.path("zone").asString(), CLOCK),
                u.path("unit").asString(),
                u.path("siteTitle").asString(),
                u.path("pilot").asBoolean() ? "pilot" : "",
                u.path("parts").asInt() > 1
                        ? "%s of %s".formatted(u.path("part").asInt(), u.path("parts").asInt())
                        : "",
                releases(u),
                chance(u),
                window(u),
                u.path("zone").asString());
    }

    /** Nothing where the plan does not wait for windows: there is none to end inside of. */
    private static String chance(JsonNode of) {
        return of.path("chance").isNull()
                ? ""
                : "%s %%".formatted(Math.round(100 * of.path("chance").asDouble()));
    }

    private static String window(JsonNode u) {
        return u.path("chance").isNull()
                ? u.path("outside").asString("").isEmpty() ? "" : "outside"
                : clock(u.path("opens"), u.path("zone").asString(), CLOCK)
                        + "-"
                        + clock(u.path("closes"), u.path("zone").asString(), CLOCK);
    }

    static StringBuilder nightHead(JsonNode night, String zone) {
        StringBuilder text = new StringBuilder(likelyEnd(night, zone)).append('\n');
        return text;
    }

    static String likelyEnd(JsonNode night, String zone) {
        return Output.paragraph(
                "Night of %s  ".formatted(night.path("night").asString()),
                "%s, ends likely at %s, in 9 of 10 cases by %s %s, %s"
                        .formatted(
                                counted(night.path("units").size(), "part", "parts"),
                                clock(night.path("median"), zone, CLOCK),
                                clock(night.path("p90"), zone, CLOCK),
                                zone,
                                inTime(night)));
    }

    private static String inTime(JsonNode night) {
        if (!night.path("chance").isNull()) {
            return "inside its windows in %s of 100"
                    .formatted(Math.round(100 * night.path("chance").asDouble()));
        }
        long outside =
                night.path("units")
                        .valueStream()
                        .filter(u -> !u.path("outside").asString("").isEmpty())
                        .count();
        return outside == 0
                ? "without waiting for windows"
                : "%s outside windows".formatted(counted(outside, "part", "parts"));
    }

    static String releases(JsonNode u) {
        int moves = u.path("way").size();
        return "%s > %s%s"
                .formatted(
                        u.path("from").asString(),
                        u.path("way").path(moves - 1).asString(),
                        moves > 1 ? ", %s moves".formatted(moves) : "");
    }

    /** The first few, and how many more there are: the whole list is in --output json. */
    static String some(JsonNode texts, String between) {
        String first =
                texts.valueStream()
                        .limit(MOST_NAMED)
                        .map(JsonNode::asString)
                        .collect(Collectors.joining(between));
        return texts.size() > MOST_NAMED
                ? "%s; and %s more.".formatted(first, texts.size() - MOST_NAMED)
                : first + ".";
    }
}
