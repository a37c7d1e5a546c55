package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * The command language of the Osmer R6: {@code ask} tells, {@code do} does. Long answers stop after
 * {@value #PAGE} lines. What is dangerous is asked back.
 */
final class OsmerShell {
    static final String FAMILY = "osmer-r6";
    private static final int PAGE = 20;
    private static final String MORE = "== more (space goes on, q stops) ==";
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss", Locale.ROOT)
                    .withZone(ZoneOffset.UTC);

    private final Machine machine;
    private final Terminal terminal;

    OsmerShell(Machine machine, InputStream in, OutputStream out) {
        this.machine = machine;
        terminal = new Terminal(in, out, PAGE, new Terminal.More((_, _) -> MORE, 'q'));
    }

    /** Until the caller goes or the machine does. */
    void run() throws IOException {
        terminal.write(
                "\nOsmer R6 %s. Work on this router is recorded.\n".formatted(machine.release()));
        while (true) {
            terminal.write(
                    "[%s%s]: ".formatted(machine.description().name(), hasUnsaved() ? "*" : ""));
            Optional<String> line = terminal.readLine();
            if (line.isEmpty() || !obey(line.get().strip())) {
                return;
            }
        }
    }

    private boolean hasUnsaved() {
        return !machine.settings().equals(machine.keptSettings());
    }

    private boolean obey(String line) throws IOException {
        switch (line) {
            case "" -> {}
            case "leave" -> {
                return false;
            }
            case "ask identity" -> identity();
            case "ask storage" -> storage();
            case "ask start" -> start();
            case "ask settings now" -> terminal.show(settingsText(machine.settings()));
            case "ask settings kept" -> terminal.show(settingsText(machine.keptSettings()));
            case "ask differences" ->
                    terminal.show(
                            hasUnsaved()
                                    ? "the settings now differ from the settings kept\n"
                                    : "none\n");
            case "ask links" -> terminal.show(table(machine.links()));
            case "ask neighbours" -> terminal.show(table(machine.description().neighbours()));
            case "ask health" ->
                    terminal.show(
                            "power a   ok\npower b   %s\nfan       ok\n"
                                    .formatted(machine.has(Fault.LOSES_A_FEED) ? "out" : "ok"));
            case "do keep" -> keep();
            case "do write-settings" -> {
                Optional<List<String>> lines = terminal.readLines("-- end --");
                lines.ifPresent(machine::takeSettings);
                terminal.show(
                        lines.map(taken -> "%s lines written\n".formatted(taken.size()))
                                .orElse("no: there was no end\n"));
            }
            case "do restart" -> {
                return restart();
            }
            default -> obeyWithWords(line, line.split("\\s+"));
        }
        return true;
    }

    private void obeyWithWords(String line, String[] words) throws IOException {
        if (line.startsWith("do reach ") && words.length == 3) {
            terminal.show(
                    new Fetch(machine)
                                    .whyNotReached(URI.create(words[2]))
                                    .map(why -> "not reached: " + why)
                                    .orElse("reached")
                            + "\n");
        } else if (line.startsWith("do bring ") && words.length == 5) {
            bring(URI.create(words[2]), words[4]);
        } else if (line.startsWith("do take ") && words.length == 5 && words[3].equals("from")) {
            take(words[2], words[4]);
        } else if (line.startsWith("do digest ") && words.length == 3) {
            terminal.show(
                    machine.flash()
                                    .sha256(words[2])
                                    .map(digest -> "sha256 " + digest)
                                    .orElse("no such file: " + words[2])
                            + "\n");
        } else if (line.startsWith("do drop ") && words.length == 3) {
            drop(words[2]);
        } else if (line.startsWith("do start-with ") && words.length == 5) {
            choose(words[2], words[4]);
        } else if (line.equals("do keep-start")) {
            machine.keepChoice();
            terminal.show("kept\n");
        } else {
            terminal.show("not known: " + line + "\n");
        }
    }

    private void identity() throws IOException {
        MachineDescription d = machine.description();
        terminal.show(
                """
                name      %s
                model     %s
                revision  %s
                serial    %s
                release   %s
                %sstarted   %s, start %s
                running   %s min
                """
                        .formatted(
                                d.name(),
                                d.model(),
                                d.revision(),
                                d.serial(),
                                machine.release(),
                                board(),
                                CLOCK.format(machine.startedAt()),
                                machine.starts(),
                                machine.uptime().toMinutes()));
    }

    private String board() {
        if (machine.firmware(Firmware::board).isEmpty()) {
            return "";
        }
        return "board     %s\n%s"
                .formatted(
                        machine.firmware(Firmware::board),
                        machine.firmware(Firmware::boardWaits).isEmpty()
                                ? ""
                                : "          %s waits for the next start\n"
                                        .formatted(machine.firmware(Firmware::boardWaits)));
    }

    private void storage() throws IOException {
        StringBuilder text =
                new StringBuilder(
                        "store flash, %s bytes, %s free\n"
                                .formatted(
                                        machine.description().flashBytes(),
                                        machine.flash().freeBytes()));
        machine.flash()
                .files()
                .forEach((name, size) -> text.append("  %-28s %12s\n".formatted(name, size)));
        terminal.show(text.toString());
    }

    private void start() throws IOException {
        terminal.show(
                """
                running    %s
                next       %s
                otherwise  %s
                choice     %s
                """
                        .formatted(
                                machine.runningImage(),
                                machine.next(),
                                machine.fallback().isEmpty() ? "nothing" : machine.fallback(),
                                machine.isChoiceKept() ? "kept" : "not kept"));
    }

    private static String table(Map<String, String> rows) {
        StringBuilder text = new StringBuilder();
        rows.forEach((name, state) -> text.append("%-12s %s\n".formatted(name, state)));
        return text.isEmpty() ? "none\n" : text.toString();
    }

    private void keep() throws IOException {
        if (confirmed("Keep the settings? (yes/no) ")) {
            machine.keepSettings();
            terminal.show("kept\n");
        } else {
            terminal.show("left as it was\n");
        }
    }

    private void take(String name, String medium) throws IOException {
        Path plugged = machine.flash().stick().resolve(name);
        if (!medium.equals("stick") || !Files.isRegularFile(plugged)) {
            terminal.show("%s has no %s\n".formatted(medium, name));
            return;
        }
        try (InputStream in = Files.newInputStream(plugged)) {
            terminal.show(
                    "took %s bytes\n"
                            .formatted(new Fetch(machine).receive(in, name, Files.size(plugged))));
        } catch (IOException failed) {
            terminal.show("failed: %s\n".formatted(failed.getMessage()));
        }
    }

    private void bring(URI source, String name) throws IOException {
        if (machine.flash().file(name).toFile().exists()
                && !confirmed(
                        "There is a file %s already. Write over it? (yes/no) ".formatted(name))) {
            terminal.show("left as it was\n");
            return;
        }
        String said;
        try {
            said = new Fetch(machine).fetch(source, name);
        } catch (IOException failed) {
            said = "failed: " + failed.getMessage();
        }
        terminal.show(said + "\n");
    }

    private void drop(String name) throws IOException {
        if (name.equals(machine.runningImage())) {
            terminal.show("refused: %s runs\n".formatted(name));
        } else if (!machine.flash().files().containsKey(name)) {
            terminal.show("no such file: " + name + "\n");
        } else if (confirmed("Drop %s? (yes/no) ".formatted(name))) {
            machine.drop(name);
            terminal.show("dropped\n");
        } else {
            terminal.show("left as it was\n");
        }
    }

    private void choose(String next, String otherwise) throws IOException {
        if (!machine.flash().files().containsKey(next)) {
            terminal.show("refused: no such file: " + next + "\n");
            return;
        }
        machine.choose(next, otherwise);
        terminal.show("set, not kept\n");
    }

    private boolean restart() throws IOException {
        if (machine.takeOnce(Fault.ASKS_SOMETHING_NEW)
                && !confirmed(
                        "A colleague is signed in on the console line. Send them away? (yes/no)"
                                + " ")) {
            terminal.show("left as it was\n");
            return true;
        }
        offerToKeep();
        if (!confirmed("Restart now? (yes/no) ")) {
            terminal.show("left as it was\n");
            return true;
        }
        terminal.write("going down\n");
        machine.restart();
        return false;
    }

    private void offerToKeep() throws IOException {
        if (hasUnsaved() && confirmed("The settings now were not kept. Keep them? (yes/no) ")) {
            machine.keepSettings();
        }
    }

    private boolean confirmed(String question) throws IOException {
        return terminal.confirmed(question, "yes");
    }

    private static String settingsText(List<String> lines) {
        return String.join("\n", lines)
                + "\n-- end of settings, "
                + String.join("\n", lines).getBytes(StandardCharsets.UTF_8).length
                + " bytes --\n";
    }
}
