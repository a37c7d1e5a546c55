package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.URI;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.stream.Collectors;

/**
 * The command language of the Corvane V8: short words in capitals, as on its front plate. Line
 * boards take firmware of their own; the clock board takes its at the next start.
 */
final class CorvaneShell {
    static final String FAMILY = "corvane-v8";
    private static final int PAGE = 14;
    private static final String CLOCK_BOARD = "clock";
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss", Locale.ROOT)
                    .withZone(ZoneOffset.UTC);

    private final Machine machine;
    private final Terminal terminal;
    private final Phrases phrases;

    CorvaneShell(Machine machine, InputStream in, OutputStream out) {
        this.machine = machine;
        terminal =
                new Terminal(in, out, PAGE, new Terminal.More("MORE (%s/%s) Y/N "::formatted, 'N'));
        phrases =
                new Phrases()
                        .orLast("BYE", _ -> false)
                        .on("TELL SHELF", _ -> shelf())
                        .on("TELL BOARDS", _ -> boards())
                        .on("TELL START", _ -> start())
                        .on("TELL CARD", _ -> card())
                        .on("TELL PLAN", _ -> plan(machine.settings()))
                        .on("TELL STORED PLAN", _ -> plan(machine.keptSettings()))
                        .on(
                                "TELL OPEN",
                                _ ->
                                        terminal.show(
                                                hasUnsaved() ? "PLAN NOT STORED\n" : "NOTHING\n"))
                        .on("TELL WIRES", _ -> rows(machine.links()))
                        .on("TELL BESIDE", _ -> rows(machine.description().neighbours()))
                        .on("TELL RIGHTS", _ -> rows(machine.licences().shown()))
                        .on("TELL RIGHTS IN FULL", _ -> tellRights(machine))
                        .on(
                                "TELL LAMPS",
                                _ ->
                                        terminal.show(
                                                "POWER 1 GREEN\nPOWER 2 %s\nFANS GREEN\n"
                                                        .formatted(
                                                                machine.has(Fault.LOSES_A_FEED)
                                                                        ? "RED"
                                                                        : "GREEN")))
                        .on("STORE PLAN", _ -> storePlan(machine))
                        .on("WRITE PLAN", _ -> write())
                        .on("CALL (\\S+)", said -> call(said, machine))
                        .on(
                                "LOAD (\\S+) AS (\\S+)",
                                said -> load(URI.create(said.group(1)), said.group(2)))
                        .on("PROOF (\\S+)", said -> proof(said, machine))
                        .on("SCRATCH (\\S+)", said -> scratch(said.group(1)))
                        .on(
                                "START WITH (\\S+) ELSE (\\S+)",
                                said -> choose(said.group(1), said.group(2)))
                        .on("STORE START", _ -> storeStart(machine))
                        .on(
                                "BOARDS (board-[ab]) TAKE (\\S+)",
                                said -> boardsTake(said.group(1), said.group(2)))
                        .on("CLOCK TAKES (\\S+)", said -> clockTakes(said.group(1)))
                        .orLast("RESTART", _ -> restart());
    }

    private void storePlan(Machine machine) throws IOException {
        machine.keepSettings();
        terminal.show("PLAN STORED\n");
    }

    private void storeStart(Machine machine) throws IOException {
        machine.keepChoice();
        terminal.show("START STORED\n");
    }

    private void proof(Matcher said, Machine machine) throws IOException {
        terminal.show(
                machine.flash()
                        .sha256(said.group(1))
                        .map("SHA256 %s\n"::formatted)
                        .orElse("NO FILE %s\n".formatted(said.group(1))));
    }

    private void call(Matcher said, Machine machine) throws IOException {
        terminal.show(
                new Fetch(machine)
                                .whyNotReached(URI.create(said.group(1)))
                                .map(why -> "FAULT " + why)
                                .orElse("ANSWERED")
                        + "\n");
    }

    private void tellRights(Machine machine) throws IOException {
        plan(
                machine.licences().keys().entrySet().stream()
                        .map(one -> "%s | KEY %s".formatted(one.getKey(), one.getValue()))
                        .toList());
    }

    void run() throws IOException {
        terminal.write("\nCORVANE V8\n");
        phrases.talk(
                terminal,
                () -> "%s READY ".formatted(machine.description().name()),
                "FAULT WORD %s\n"::formatted);
    }

    private boolean hasUnsaved() {
        return !machine.settings().equals(machine.keptSettings());
    }

    private void shelf() throws IOException {
        MachineDescription d = machine.description();
        terminal.show(
                "NAME %s\nKIND %s\nNUMBER %s\nSYSTEM %s\nSTARTED %s START %s\n"
                        .formatted(
                                d.name(),
                                d.model(),
                                d.serial(),
                                machine.release(),
                                CLOCK.format(machine.startedAt()),
                                machine.starts()));
    }

    private void boards() throws IOException {
        terminal.show(
                machine.attached().shown().stream()
                                .map(
                                        one ->
                                                "%s | %s | %s | %s | %s | %s\n"
                                                        .formatted(
                                                                one.what().name(),
                                                                one.what().kind(),
                                                                one.what().model(),
                                                                one.what().serial(),
                                                                one.runs(),
                                                                one.serves() ? "SERVES" : "SILENT"))
                                .collect(Collectors.joining())
                        + "END\n");
    }

    private void start() throws IOException {
        terminal.show(
                "NOW %s\nNEXT %s\nELSE %s\n%s\nCLOCK WAITS FOR %s\n"
                        .formatted(
                                machine.runningImage(),
                                machine.next(),
                                machine.fallback().isEmpty() ? "NOTHING" : machine.fallback(),
                                machine.isChoiceKept() ? "STORED" : "NOT STORED",
                                machine.attached().waitsFor(CLOCK_BOARD).isEmpty()
                                        ? "NOTHING"
                                        : machine.attached().waitsFor(CLOCK_BOARD)));
    }

    private void card() throws IOException {
        terminal.show(
                "CARD %s FREE %s\n"
                                .formatted(
                                        machine.description().flashBytes(),
                                        machine.flash().freeBytes())
                        + machine.flash().files().entrySet().stream()
                                .map(
                                        file ->
                                                "FILE %s %s\n"
                                                        .formatted(file.getKey(), file.getValue()))
                                .collect(Collectors.joining()));
    }

    private void plan(List<String> lines) throws IOException {
        terminal.show(
                lines.stream().map(line -> line + "\n").collect(Collectors.joining())
                        + "END OF %s\n".formatted(lines.size()));
    }

    private void rows(Map<String, String> rows) throws IOException {
        terminal.show(
                rows.isEmpty()
                        ? "NOTHING\n"
                        : rows.entrySet().stream()
                                .map(row -> "%s | %s\n".formatted(row.getKey(), row.getValue()))
                                .collect(Collectors.joining()));
    }

    private void write() throws IOException {
        Optional<List<String>> lines = terminal.readLines("END");
        lines.ifPresent(machine::takeSettings);
        terminal.show(
                lines.map(taken -> "%s LINES WRITTEN\n".formatted(taken.size()))
                        .orElse("FAULT NO END\n"));
    }

    private void load(URI source, String name) throws IOException {
        String said;
        try {
            said =
                    new Fetch(machine)
                            .fetch(source, name)
                            .replace("brought", "LOADED")
                            .replace("bytes", "BYTES");
        } catch (IOException failed) {
            said = "FAULT " + failed.getMessage();
        }
        terminal.show(said + "\n");
    }

    private void scratch(String name) throws IOException {
        if (name.equals(machine.runningImage())) {
            terminal.show("FAULT %s RUNS\n".formatted(name));
        } else if (terminal.confirmed("SCRATCH %s Y/N? ".formatted(name), "Y")) {
            machine.drop(name);
            terminal.show("SCRATCHED\n");
        } else {
            terminal.show("KEPT\n");
        }
    }

    private void choose(String next, String otherwise) throws IOException {
        if (machine.flash().files().containsKey(next)) {
            machine.choose(next, otherwise);
            terminal.show("NEXT %s NOT STORED\n".formatted(next));
        } else {
            terminal.show("FAULT NO FILE %s\n".formatted(next));
        }
    }

    private void boardsTake(String kind, String file) throws IOException {
        PracticeImage.Checked checked = machine.check(file);
        if (checked.image().filter(image -> image.component().equals(kind)).isEmpty()) {
            terminal.show("FAULT %s IS NOT FOR %s\n".formatted(file, kind));
        } else if (terminal.confirmed("THEIR LINES GO SILENT. TAKE Y/N? ", "Y")) {
            terminal.show(
                    "%s BOARDS TAKE %s\n"
                            .formatted(
                                    machine.attached().load(kind, checked.image().get().version()),
                                    checked.image().get().version()));
        } else {
            terminal.show("KEPT\n");
        }
    }

    private void clockTakes(String file) throws IOException {
        PracticeImage.Checked checked = machine.check(file);
        if (checked.image().filter(image -> image.component().equals(CLOCK_BOARD)).isEmpty()) {
            terminal.show("FAULT %s IS NOT FOR %s\n".formatted(file, CLOCK_BOARD));
            return;
        }
        machine.attached().wait(CLOCK_BOARD, file, checked.image().get().version());
        terminal.show("CLOCK TAKES IT AT THE NEXT START\n");
    }

    private boolean restart() throws IOException {
        if (machine.takeOnce(Fault.ASKS_SOMETHING_NEW)
                && !terminal.confirmed("7 CALLS ARE OPEN. CUT THEM Y/N? ", "Y")) {
            terminal.show("KEPT\n");
            return true;
        }
        if (!terminal.confirmed("ALL LINES GO SILENT. RESTART Y/N? ", "Y")) {
            terminal.show("KEPT\n");
            return true;
        }
        terminal.write("GOING DOWN\n");
        machine.restart();
        return false;
    }
}
