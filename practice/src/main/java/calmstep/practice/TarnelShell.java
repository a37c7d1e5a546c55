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

/**
 * The command language of the Tarnel T2: a thing with a colon tells, a thing with an exclamation
 * mark does. The lead answers for the whole stack.
 */
final class TarnelShell {
    private static final int PAGE = 18;
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss", Locale.ROOT)
                    .withZone(ZoneOffset.UTC);

    private final Stack stack;
    private final Terminal terminal;

    TarnelShell(Stack stack, InputStream in, OutputStream out) {
        this.stack = stack;
        terminal =
                new Terminal(
                        in,
                        out,
                        PAGE,
                        new Terminal.More("(%s of %s lines, tab for more)"::formatted, 'x'));
    }

    /** Until the caller goes or the stack does. */
    void run() throws IOException {
        terminal.write(
                "\nTarnel T2, %s in stack. What you do here is written down.\n"
                        .formatted(stack.size()));
        while (true) {
            terminal.write(
                    "%s.%s %s~ "
                            .formatted(
                                    stack.description().name(),
                                    stack.lead(),
                                    hasUnsaved() ? "+" : ""));
            Optional<String> line = terminal.readLine();
            if (line.isEmpty() || !obey(line.get().strip())) {
                return;
            }
        }
    }

    private Machine lead() {
        return stack.leader();
    }

    private boolean hasUnsaved() {
        return !lead().settings().equals(lead().keptSettings());
    }

    private boolean obey(String line) throws IOException {
        switch (line) {
            case "" -> {}
            case "bye!" -> {
                return false;
            }
            case "unit:" -> unit();
            case "members:" -> members();
            case "files:" -> files();
            case "start:" -> start();
            case "text: now" -> text(lead().settings());
            case "text: held" -> text(lead().keptSettings());
            case "changes:" -> terminal.show(hasUnsaved() ? "not held\n" : "none\n");
            case "ports:" -> rows(lead().links());
            case "beside:" -> rows(stack.description().neighbours());
            case "health:" -> health();
            case "text! hold" -> hold();
            case "text! anew" -> {
                Optional<List<String>> lines = terminal.readLines(";;");
                lines.ifPresent(taken -> lead().takeSettings(taken));
                terminal.show(
                        lines.map(taken -> "%s lines taken\n".formatted(taken.size()))
                                .orElse("cannot: no end\n"));
            }
            case "start! hold" -> holdChoice();
            case "unit! restart" -> {
                return restart();
            }
            default -> obeyWithWords(line, line.split("\\s+"));
        }
        return true;
    }

    private void obeyWithWords(String line, String[] words) throws IOException {
        if (line.startsWith("files! reach ") && words.length == 3) {
            terminal.show(
                    new Fetch(lead())
                                    .whyNotReached(URI.create(words[2]))
                                    .map(why -> "cannot: " + why)
                                    .orElse("it answers")
                            + "\n");
        } else if (line.startsWith("files! take ") && words.length == 5) {
            take(URI.create(words[2]), words[4]);
        } else if (line.startsWith("files! pass ") && words.length == 3) {
            pass(words[2]);
        } else if (line.startsWith("files! sum ") && words.length == 3) {
            sum(words[2]);
        } else if (line.startsWith("files! forget ") && words.length == 3) {
            forget(words[2]);
        } else if (line.startsWith("start! ") && words.length == 4) {
            choose(words[1], words[3]);
        } else if (line.startsWith("loader! take ") && words.length == 3) {
            handToLoader(words[2]);
        } else if (line.startsWith("members! restart ") && words.length == 3) {
            restartMember(words[2]);
        } else if (line.startsWith("members! lead ") && words.length == 3) {
            passLead(words[2]);
        } else {
            terminal.show("what? " + line + "\n");
        }
    }

    private void unit() throws IOException {
        MachineDescription d = stack.description();
        terminal.show(
                """
                unit     %s
                kind     %s
                number   %s
                release  %s
                loader   %s
                lead     %s of %s
                formed   %s times, last %s
                """
                        .formatted(
                                d.name(),
                                d.model(),
                                d.serial(),
                                lead().release(),
                                lead().firmware(Firmware::loader),
                                stack.lead(),
                                stack.size(),
                                stack.formed(),
                                CLOCK.format(stack.formedAt())));
    }

    private void members() throws IOException {
        StringBuilder text =
                new StringBuilder(
                        "no.  part     kind    number         release   loader  how      up\n");
        for (int number = 1; number <= stack.size(); number++) {
            Machine member = stack.member(number);
            boolean away = stack.standing(number) == Stack.Standing.AWAY;
            text.append(
                    "%-4s %-8s %-7s %-14s %-9s %-7s %-8s %s times\n"
                            .formatted(
                                    number,
                                    away ? "-" : number == stack.lead() ? "lead" : "follows",
                                    member.description().model(),
                                    member.description().serial(),
                                    away ? "-" : member.release(),
                                    away ? "-" : member.firmware(Firmware::loader),
                                    stack.standing(number),
                                    member.starts()));
        }
        terminal.show(text.toString());
    }

    private void files() throws IOException {
        StringBuilder text = new StringBuilder();
        for (Machine member : stack.whole()) {
            text.append(
                    "on %s: %s bytes, %s free\n"
                            .formatted(
                                    stack.numberOf(member),
                                    member.description().flashBytes(),
                                    member.flash().freeBytes()));
            member.flash()
                    .files()
                    .forEach((name, size) -> text.append("  %12s %s\n".formatted(size, name)));
        }
        terminal.show(text.toString());
    }

    private void start() throws IOException {
        terminal.show(
                "now %s\nthen %s\nelse %s\nheld %s\nloader takes %s\n"
                        .formatted(
                                lead().runningImage(),
                                lead().next(),
                                lead().fallback().isEmpty() ? "-" : lead().fallback(),
                                stack.whole().stream().allMatch(Machine::isChoiceKept)
                                        ? "yes"
                                        : "no",
                                lead().firmware(Firmware::loaderWaits).isEmpty()
                                        ? "-"
                                        : lead().firmware(Firmware::loaderWaits)));
    }

    private void text(List<String> lines) throws IOException {
        terminal.show(String.join("\n", lines) + "\n;; %s lines ;;\n".formatted(lines.size()));
    }

    private void rows(Map<String, String> rows) throws IOException {
        StringBuilder text = new StringBuilder();
        rows.forEach((name, state) -> text.append("%-18s is %s\n".formatted(name, state)));
        terminal.show(text.isEmpty() ? "none\n" : text.toString());
    }

    private void health() throws IOException {
        StringBuilder text = new StringBuilder();
        stack.whole()
                .forEach(
                        member ->
                                text.append(
                                        "feed on %1$s is good\nfans on %1$s is good\n"
                                                .formatted(stack.numberOf(member))));
        terminal.show(text.toString());
    }

    private void hold() throws IOException {
        List<String> now = lead().settings();
        stack.whole().forEach(member -> member.adopt(now, now));
        terminal.show("held\n");
    }

    private void holdChoice() throws IOException {
        stack.whole().forEach(Machine::keepChoice);
        terminal.show("held on all\n");
    }

    private void take(URI source, String name) throws IOException {
        if (lead().flash().files().containsKey(name)
                && !terminal.confirmed("%s is there. Replace it? [y/n] ".formatted(name), "y")) {
            terminal.show("left\n");
            return;
        }
        String said;
        try {
            said = new Fetch(lead()).fetch(source, name).replace("brought", "taken,");
        } catch (IOException failed) {
            said = "cannot: " + failed.getMessage();
        }
        terminal.show(said + "\n");
    }

    private void pass(String name) throws IOException {
        if (!lead().flash().files().containsKey(name)) {
            terminal.show("nothing here is called " + name + "\n");
            return;
        }
        terminal.show(
                stack.pass(name)
                        .map(full -> "cannot: no room on %s\n".formatted(stack.numberOf(full)))
                        .orElse("passed, it is on all %s\n".formatted(stack.whole().size())));
    }

    private void sum(String name) throws IOException {
        StringBuilder text = new StringBuilder();
        for (Machine member : stack.whole()) {
            text.append(
                    member.flash()
                            .sha256(name)
                            .map(
                                    digest ->
                                            "on %s sha256=%s\n"
                                                    .formatted(stack.numberOf(member), digest))
                            .orElse(
                                    "nothing on %s is called %s\n"
                                            .formatted(stack.numberOf(member), name)));
        }
        terminal.show(text.toString());
    }

    private void forget(String name) throws IOException {
        if (stack.whole().stream().anyMatch(member -> name.equals(member.runningImage()))) {
            terminal.show("cannot: %s is what runs\n".formatted(name));
        } else if (!terminal.confirmed("Forget %s on all? [y/n] ".formatted(name), "y")) {
            terminal.show("left\n");
        } else {
            stack.whole().forEach(member -> member.drop(name));
            terminal.show("forgotten\n");
        }
    }

    private void choose(String next, String otherwise) throws IOException {
        Optional<Machine> without = stack.without(next);
        if (without.isPresent()) {
            terminal.show(
                    "cannot: nothing on %s is called %s\n"
                            .formatted(stack.numberOf(without.get()), next));
            return;
        }
        stack.whole().forEach(member -> member.choose(next, otherwise));
        terminal.show("chosen, not held\n");
    }

    private void handToLoader(String file) throws IOException {
        Optional<Machine> without = stack.without(file);
        if (without.isPresent()) {
            terminal.show(
                    "cannot: nothing on %s is called %s\n"
                            .formatted(stack.numberOf(without.get()), file));
        } else if (terminal.confirmed(
                "The loader is written at the next start. Go on? [y/n] ", "y")) {
            stack.whole().forEach(member -> member.handToLoader(file));
            terminal.show("it waits for the next start\n");
        } else {
            terminal.show("left\n");
        }
    }

    private void restartMember(String word) throws IOException {
        int number = numberIn(word);
        if (number < 1) {
            terminal.show("cannot: there is no member " + word + "\n");
        } else if (lead().running()
                .filter(image -> image.rules().besideFrom().isEmpty())
                .isPresent()) {
            terminal.show("cannot: %s restarts as a whole\n".formatted(lead().release()));
        } else if (terminal.confirmed("Restart member %s? [y/n] ".formatted(number), "y")) {
            terminal.show("member %s goes down\n".formatted(number));
            stack.restart(number);
        } else {
            terminal.show("left\n");
        }
    }

    private void passLead(String word) throws IOException {
        int number = numberIn(word);
        terminal.show(
                number >= 1 && stack.handOver(number)
                        ? "%s leads from now on\n".formatted(number)
                        : "cannot: member %s is not whole\n".formatted(word));
    }

    private int numberIn(String word) {
        return word.matches("[1-9]") && Integer.parseInt(word) <= stack.size()
                ? Integer.parseInt(word)
                : 0;
    }

    private boolean restart() throws IOException {
        if (lead().takeOnce(Fault.ASKS_SOMETHING_NEW)
                && !terminal.confirmed(
                        "The clock was never set. Restart all the same? [y/n] ", "y")) {
            terminal.show("left\n");
            return true;
        }
        if (hasUnsaved()
                && terminal.confirmed("The text now is not held. Hold it first? [y/n] ", "y")) {
            hold();
        }
        if (!terminal.confirmed(
                "All %s members go down. Restart? [y/n] ".formatted(stack.size()), "y")) {
            terminal.show("left\n");
            return true;
        }
        terminal.write("the stack goes down\n");
        stack.restart();
        return false;
    }
}
