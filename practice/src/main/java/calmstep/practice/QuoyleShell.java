package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.URI;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The command language of the Quoyle Q4: questions begin with "what", orders are verbs. Its image
 * is in two halves, which it writes "upper + lower".
 */
final class QuoyleShell {
    static final String FAMILY = "quoyle-q4";
    private static final int PAGE = 22;
    private static final String HALVES = " + ";
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss", Locale.ROOT)
                    .withZone(ZoneOffset.UTC);

    private final Machine machine;
    private final Terminal terminal;

    QuoyleShell(Machine machine, InputStream in, OutputStream out) {
        this.machine = machine;
        terminal =
                new Terminal(
                        in,
                        out,
                        PAGE,
                        new Terminal.More(
                                "~~ %s of %s ~~ f goes forward, e ends "::formatted, 'e'));
    }

    /** Until the caller goes or the machine does. */
    void run() throws IOException {
        terminal.write("\nQuoyle Q4. Whoever works here is named in the journal.\n");
        while (true) {
            terminal.write("%s = ".formatted(machine.description().name()));
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
            case "farewell" -> {
                return false;
            }
            case "what am i" -> identity();
            case "what starts" -> starts();
            case "what is stored" -> stored();
            case "what is set" -> settings(machine.settings());
            case "what was settled" -> settings(machine.keptSettings());
            case "what is open" ->
                    terminal.show(hasUnsaved() ? "settings are not settled\n" : "nothing\n");
            case "what is wired" -> rows(machine.links());
            case "what is beside" -> rows(machine.description().neighbours());
            case "what backs me" -> backing();
            case "what is well" ->
                    terminal.show(
                            "power left: ok\npower right: %s\nfans: ok\n"
                                    .formatted(machine.has(Fault.LOSES_A_FEED) ? "out" : "ok"));
            case "settle settings" -> {
                machine.keepSettings();
                terminal.show("settled\n");
            }
            case "set anew" -> {
                Optional<List<String>> lines = terminal.readLines("(that is all)");
                lines.ifPresent(machine::takeSettings);
                terminal.show(
                        lines.map(taken -> "%s lines set\n".formatted(taken.size()))
                                .orElse("unable: no end\n"));
            }
            case "settle beginning" -> {
                machine.keepChoice();
                terminal.show("settled\n");
            }
            case "begin again" -> {
                return beginAgain();
            }
            default -> obeyWithWords(line, line.split("\\s+"));
        }
        return true;
    }

    private void obeyWithWords(String line, String[] words) throws IOException {
        if (line.startsWith("try ") && words.length == 2) {
            tellReach(words);
        } else if (line.startsWith("carry ") && words.length == 4) {
            carry(URI.create(words[1]), words[3]);
        } else if (line.startsWith("weigh ") && words.length == 2) {
            tellDigest(words);
        } else if (line.startsWith("discard ") && words.length == 2) {
            discard(words[1]);
        } else if (line.startsWith("begin with ") && line.contains(" otherwise ")) {
            choose(
                    line.substring("begin with ".length(), line.indexOf(" otherwise ")),
                    line.substring(line.indexOf(" otherwise ") + " otherwise ".length()));
        } else {
            terminal.show("pardon: %s\n".formatted(line));
        }
    }

    private void tellDigest(String[] words) throws IOException {
        terminal.show(
                machine.flash()
                        .sha256(words[1])
                        .map("sha-256 %s\n"::formatted)
                        .orElse("unknown here: %s\n".formatted(words[1])));
    }

    private void tellReach(String[] words) throws IOException {
        terminal.show(
                new Fetch(machine)
                                .whyNotReached(URI.create(words[1]))
                                .map(why -> "unable: " + why)
                                .orElse("there")
                        + "\n");
    }

    private void identity() throws IOException {
        MachineDescription d = machine.description();
        terminal.show(
                "name: %s\nmake: Quoyle %s\nserial: %s\nrelease: %s\nbegan: %s, beginning %s\n"
                        .formatted(
                                d.name(),
                                d.model(),
                                d.serial(),
                                machine.release(),
                                CLOCK.format(machine.startedAt()),
                                machine.starts()));
    }

    private void starts() throws IOException {
        terminal.show(
                "runs: %s\nnext: %s\notherwise: %s\nthis is %s\n"
                        .formatted(
                                machine.runningImage(),
                                machine.next(),
                                machine.fallback().isEmpty() ? "nothing" : machine.fallback(),
                                machine.isChoiceKept() ? "settled" : "not settled"));
    }

    private void stored() throws IOException {
        StringBuilder text =
                new StringBuilder(
                        "card, %s bytes, %s of them free\n"
                                .formatted(
                                        machine.description().flashBytes(),
                                        machine.flash().freeBytes()));
        machine.flash()
                .files()
                .forEach((name, size) -> text.append("- %s (%s)\n".formatted(name, size)));
        terminal.show(text.toString());
    }

    private void settings(List<String> lines) throws IOException {
        terminal.show(String.join("\n", lines) + "\n(that is all)\n");
    }

    private void rows(Map<String, String> rows) throws IOException {
        StringBuilder text = new StringBuilder();
        rows.forEach((name, state) -> text.append("%s: %s\n".formatted(name, state)));
        terminal.show(text.isEmpty() ? "nothing\n" : text.toString());
    }

    private void backing() throws IOException {
        Map<String, String> partners = new TreeMap<>(machine.description().partners());
        if (machine.has(Fault.PARTNER_OUT_OF_SYNC)) {
            partners.replaceAll((_, _) -> "out of step");
        }
        rows(partners);
    }

    private void carry(URI source, String name) throws IOException {
        if (machine.flash().files().containsKey(name)
                && !terminal.confirmed(
                        "%s is stored already. Write it anew, yes or no: ".formatted(name),
                        "yes")) {
            terminal.show("unchanged\n");
            return;
        }
        String said;
        try {
            said = new Fetch(machine).fetch(source, name).replace("brought", "carried");
        } catch (IOException failed) {
            said = "unable: " + failed.getMessage();
        }
        terminal.show(said + "\n");
    }

    private void discard(String name) throws IOException {
        if (List.of(machine.runningImage().split(" \\+ ")).contains(name)) {
            terminal.show("unable: %s runs\n".formatted(name));
        } else if (terminal.confirmed("Discard %s, yes or no: ".formatted(name), "yes")) {
            machine.drop(name);
            terminal.show("discarded\n");
        } else {
            terminal.show("unchanged\n");
        }
    }

    private void choose(String next, String otherwise) throws IOException {
        Optional<String> missing =
                Stream.of(next.split(" \\+ "))
                        .filter(file -> !machine.flash().files().containsKey(file))
                        .findFirst();
        if (missing.isPresent() || !next.contains(HALVES)) {
            terminal.show(
                    "unable: %s\n"
                            .formatted(
                                    missing.map("unknown here: %s"::formatted)
                                            .orElse("an image has two halves")));
        } else {
            machine.choose(upperFirst(next), upperFirst(otherwise));
            terminal.show("noted, not settled\n");
        }
    }

    private static String upperFirst(String halves) {
        return Stream.of(halves.split(" \\+ "))
                .sorted(Comparator.comparing(half -> !half.contains("upper")))
                .collect(Collectors.joining(HALVES));
    }

    private boolean beginAgain() throws IOException {
        if (isKeptBack()) {
            terminal.show("unchanged\n");
            return true;
        }
        terminal.write("farewell\n");
        machine.restart();
        return false;
    }

    private boolean isKeptBack() throws IOException {
        return ((machine.takeOnce(Fault.ASKS_SOMETHING_NEW)
                        && !terminal.confirmed(
                                "The card was not checked this year. Go on all the same, yes or no:"
                                        + " ",
                                "yes"))
                || (hasUnsaved()
                        && !terminal.confirmed(
                                "Settings are not settled and will be lost. Go on, yes or no: ",
                                "yes"))
                || !terminal.confirmed(
                        "Everything behind this switch loses its way. Begin again, yes or no: ",
                        "yes"));
    }
}
