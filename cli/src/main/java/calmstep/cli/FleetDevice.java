package calmstep.cli;

import calmstep.core.fleet.Discrepancy;
import calmstep.core.fleet.Reading.BootChoice;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What is known of one device. */
final class FleetDevice {
    private FleetDevice() {}

    @Command(
            name = "show",
            description = "One device as it showed itself last.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep fleet show rt-dunmere-1"})
    static final class Show implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE")
        String name = "";

        @Override
        public Integer call() {
            JsonNode device = common.service().get("/api/devices/" + Service.encode(name));
            common.out().print(device, words(device));
            return 0;
        }

        private static String way(JsonNode d) {
            List<String> words = new ArrayList<>();
            if (!d.path("via").isEmpty()) {
                words.add("reached through " + listed(d.path("via"), ", then "));
            }
            if (!d.path("console").isNull()) {
                words.add("its console line at " + d.path("console").asString());
            }
            if (!d.path("oldAlgorithms").isEmpty()) {
                words.add("allowed with it, though old: " + listed(d.path("oldAlgorithms"), ", "));
            }
            return String.join("; ", words);
        }

        private static String listed(JsonNode list, String between) {
            return list.valueStream().map(JsonNode::asString).collect(Collectors.joining(between));
        }

        private static String words(JsonNode d) {
            StringBuilder text = head(d);
            text.append(
                    "at %s:%s, login %s, host key %s%n"
                            .formatted(
                                    d.path("address").asString(),
                                    d.path("port").asInt(),
                                    listed(d.path("logins"), ", then "),
                                    d.path("hostKey").asString("").isEmpty()
                                            ? "not seen yet"
                                            : d.path("hostKey").asString()));
            if (!d.path("via").isEmpty()
                    || !d.path("oldAlgorithms").isEmpty()
                    || !d.path("console").isNull()) {
                text.append(way(d)).append(System.lineSeparator());
            }
            addSilence(d, text);
            addDiscrepancies(d, text);
            JsonNode reading = d.path("reading");
            if (reading.isNull()) {
                return text.append(
                                "Never read. Read it with: calmstep fleet read %s"
                                        .formatted(d.path("name").asString()))
                        .toString();
            }
            JsonNode boot = reading.path("boot");
            addRunning(text, reading, boot, d);
            reading.path("components").properties().stream()
                    .filter(c -> !c.getKey().equals("system"))
                    .forEach(c -> addComponent(c, text, reading));
            parts(reading.path("parts"), text);
            reading.path("volumes").forEach(v -> addVolume(v, text, boot));
            text.append("\n");
            reading.path("facts")
                    .forEach(
                            f ->
                                    text.append(
                                            "  %-10s %-16s %s%n"
                                                    .formatted(
                                                            f.path("kind").asString(),
                                                            f.path("name").asString(),
                                                            f.path("value").asString())));
            return text.toString();
        }

        private static void addVolume(JsonNode v, StringBuilder text, JsonNode boot) {
            text.append(
                    String.format(
                            Locale.ROOT,
                            "%n  %s: %,d bytes, %,d free%n",
                            v.path("name").asString(),
                            v.path("sizeBytes").asLong(),
                            v.path("freeBytes").asLong()));
            v.path("files").forEach(f -> addFile(f, text, boot));
        }

        private static void addFile(JsonNode f, StringBuilder text, JsonNode boot) {
            text.append(
                    String.format(
                            Locale.ROOT,
                            "    %-30s %,12d  %s%n",
                            f.path("name").asString(),
                            f.path("sizeBytes").asLong(),
                            role(boot, f.path("name").asString())));
        }

        private static void addComponent(
                Map.Entry<String, JsonNode> c, StringBuilder text, JsonNode reading) {
            text.append(
                    "  %-9s %s%s%n"
                            .formatted(
                                    c.getKey(),
                                    c.getValue().asString(),
                                    reading.path("waiting").has(c.getKey())
                                            ? "; takes over %s at the next restart"
                                                    .formatted(
                                                            reading.path("waiting")
                                                                    .path(c.getKey())
                                                                    .asString())
                                            : ""));
        }

        private static void addRunning(
                StringBuilder text, JsonNode reading, JsonNode boot, JsonNode d) {
            text.append(
                    "%n  runs      %s  (%s)%n  next      %s%s%n  fallback  %s%n"
                            .formatted(
                                    reading.path("components").path("system").asString(),
                                    boot.path("running").asString(),
                                    boot.path("next").asString(),
                                    boot.path("saved").asBoolean() ? ", saved" : ", NOT saved",
                                    boot.path("fallback").asString("").isEmpty()
                                            ? "none"
                                            : boot.path("fallback").asString()));
            addSettings(text, reading, d);
        }

        private static void addSettings(StringBuilder text, JsonNode reading, JsonNode d) {
            text.append(
                    "  settings  %s%n  started   %s%n  read      %s%n"
                            .formatted(
                                    reading.path("unsavedChanges").asBoolean()
                                            ? "unsaved changes"
                                            : "saved",
                                    reading.path("bootMark").asString(),
                                    Ago.of(d.path("readAt"))));
        }

        private static void addDiscrepancies(JsonNode d, StringBuilder text) {
            d.path("discrepancies").forEach(one -> text.append(notAsWritten(one)));
            if (!d.path("discrepancies").isEmpty()) {
                text.append(
                        "Take over what was read with: calmstep fleet as-read %s%n"
                                .formatted(d.path("name").asString()));
            }
        }

        private static String notAsWritten(JsonNode one) {
            return Output.paragraph(
                    "NOT AS WRITTEN: ",
                    JsonMapper.shared().treeToValue(one, Discrepancy.class).sentence() + ".");
        }

        private static void addSilence(JsonNode d, StringBuilder text) {
            if (!d.path("silent").isNull()) {
                text.append(
                        "silent since %s. Expected: %s. Seen: %s. %s%n"
                                .formatted(
                                        Ago.date(d.path("silent").path("at")),
                                        d.path("silent").path("expected").asString(),
                                        d.path("silent").path("seen").asString(),
                                        d.path("silent").path("remedy").asString()));
            }
        }

        private static StringBuilder head(JsonNode d) {
            StringBuilder text =
                    new StringBuilder(
                            "%s  %s, %s%s, serial %s, %s (%s)%n"
                                    .formatted(
                                            d.path("name").asString(),
                                            d.path("title").asString(),
                                            d.path("model").asString(),
                                            d.path("revision").asString("").isEmpty()
                                                    ? ""
                                                    : " revision " + d.path("revision").asString(),
                                            d.path("serial").asString(),
                                            d.path("siteTitle").asString(),
                                            d.path("zone").asString()));
            return text;
        }

        private static void parts(JsonNode parts, StringBuilder text) {
            if (parts.isEmpty()) {
                return;
            }
            text.append("\n");
            int widest =
                    parts.valueStream()
                            .mapToInt(shown -> shown.path("part").path("name").asString().length())
                            .max()
                            .orElse(0);
            parts.forEach(
                    shown -> {
                        JsonNode part = shown.path("part");
                        String runs =
                                part.path("runs").properties().stream()
                                        .map(
                                                c ->
                                                        "%s %s"
                                                                .formatted(
                                                                        c.getKey(),
                                                                        c.getValue().asString()))
                                        .collect(Collectors.joining(", "));
                        text.append(
                                ("  %-10s %-" + Math.max(3, widest) + "s %-8s %-9s %-8s %-14s %s%n")
                                        .formatted(
                                                part.path("kind")
                                                        .asString()
                                                        .toLowerCase(Locale.ROOT)
                                                        .replace('_', '-'),
                                                part.path("name").asString(),
                                                shown.path("role").asString(),
                                                shown.path("state").asString(),
                                                part.path("model").asString(),
                                                part.path("serial").asString(),
                                                runs));
                    });
        }

        private static String role(JsonNode boot, String file) {
            return List.of("running", "next", "fallback").stream()
                    .filter(role -> BootChoice.filesOf(boot.path(role).asString("")).contains(file))
                    .collect(Collectors.joining(", "));
        }
    }
}
