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
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * The command language of the Brannoch B2: a word with a question mark asks, a sentence orders. One
 * side of the pair is active and speaks for both.
 */
final class BrannochShell {
    private static final int PAGE = 20;
    private static final List<String> SIDES = List.of("left", "right");
    private static final Pattern KEY = Pattern.compile("(.+), key ([0-9A-F]{16})");
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss", Locale.ROOT)
                    .withZone(ZoneOffset.UTC);

    private final Stack pair;
    private final Terminal terminal;
    private final Phrases phrases;

    BrannochShell(Stack pair, InputStream in, OutputStream out) {
        this.pair = pair;
        terminal =
                new Terminal(
                        in,
                        out,
                        PAGE,
                        new Terminal.More(".. %s of %s, return: on, e: enough .."::formatted, 'e'));
        phrases =
                new Phrases()
                        .orLast("leave", _ -> false)
                        .on("unit\\?", _ -> unit())
                        .on("pair\\?", _ -> sides())
                        .on("store\\?", _ -> store())
                        .on("start\\?", _ -> start())
                        .on("rules now\\?", _ -> rules(active().settings()))
                        .on("rules kept\\?", _ -> rules(active().keptSettings()))
                        .on(
                                "pending\\?",
                                _ ->
                                        terminal.show(
                                                hasUnsaved()
                                                        ? "rules are not kept\n"
                                                        : "nothing\n"))
                        .on("lanes\\?", _ -> rows(active().links()))
                        .on("beside\\?", _ -> rows(pair.description().neighbours()))
                        .on("licences\\?", _ -> licences())
                        .on("licence keys\\?", _ -> tellLicenceKeys())
                        .on("health\\?", _ -> health())
                        .on("keep rules", _ -> keepRules())
                        .on("rules anew", _ -> rulesAnew())
                        .on("keys anew", _ -> keysAnew());
        addWhatMovesFiles();
        addWhatMovesTraffic();
    }

    private void addWhatMovesFiles() {
        phrases.on(
                        "knock at (\\S+)",
                        said ->
                                terminal.show(
                                        new Fetch(active())
                                                        .whyNotReached(URI.create(said.group(1)))
                                                        .map(why -> "refused - " + why)
                                                        .orElse("opened")
                                                + "\n"))
                .on(
                        "pull (\\S+) into (\\S+)",
                        said -> pull(URI.create(said.group(1)), said.group(2)))
                .on("share (\\S+)", said -> share(said.group(1)))
                .on("fingerprint (\\S+)", said -> fingerprint(said.group(1)))
                .on("burn (\\S+)", said -> burn(said.group(1)))
                .on("next (\\S+) or (\\S+)", said -> choose(said.group(1), said.group(2)))
                .on(
                        "fix next",
                        _ -> {
                            pair.whole().forEach(Machine::keepChoice);
                            terminal.show("next is fixed on both\n");
                        });
    }

    private void addWhatMovesTraffic() {
        phrases.on("flows\\?", _ -> flows(SIDES))
                .on("flows of (left|right)\\?", said -> flows(List.of(said.group(1))))
                .on("spare (left|right)", said -> spare(said.group(1)))
                .on(
                        "spare none",
                        _ -> {
                            pair.flows.spareNone();
                            terminal.show("both take flows\n");
                        })
                .orLast("restart pair", _ -> restartPair())
                .on("restart side (left|right)", said -> restartSide(said.group(1)))
                .on("give way to (left|right)", said -> giveWay(said, pair));
    }

    private void giveWay(Matcher said, Stack pair) throws IOException {
        int cut = pair.flows.over(pair.lead());
        terminal.show(
                pair.handOver(numberOf(said.group(1)))
                        ? "%s is active from now on%s\n"
                                .formatted(
                                        said.group(1),
                                        cut == 0 ? "" : ", %s flows cut".formatted(cut))
                        : "refused - %s is not in step\n".formatted(said.group(1)));
    }

    private void spare(String side) throws IOException {
        pair.flows.spare(numberOf(side));
        terminal.show("%s takes no new flows\n".formatted(side));
    }

    private void flows(List<String> sides) throws IOException {
        StringBuilder text = new StringBuilder();
        for (String side : sides) {
            int number = numberOf(side);
            text.append(
                    "%s, %s flows, %s\n"
                            .formatted(
                                    side,
                                    pair.flows.over(number),
                                    pair.flows.isSpared(number) ? "spared" : "takes more"));
        }
        terminal.show(text.toString());
    }

    private void tellLicenceKeys() throws IOException {
        rules(
                active().licences().keys().entrySet().stream()
                        .map(one -> "%s, key %s".formatted(one.getKey(), one.getValue()))
                        .toList());
    }

    void run() throws IOException {
        terminal.write("\nBrannoch B2. Every order is kept in the book.\n");
        phrases.talk(
                terminal,
                () ->
                        "%s(%s): "
                                .formatted(
                                        pair.description().name(),
                                        pair.lead() == 0 ? "-" : SIDES.get(pair.lead() - 1)),
                "unknown - %s\n"::formatted);
    }

    private Machine active() {
        return pair.leader();
    }

    private static int numberOf(String side) {
        return SIDES.indexOf(side) + 1;
    }

    private String side(Machine member) {
        return SIDES.get(pair.numberOf(member) - 1);
    }

    private boolean hasUnsaved() {
        return !active().settings().equals(active().keptSettings());
    }

    private void unit() throws IOException {
        MachineDescription d = pair.description();
        terminal.show(
                "called %s\nmade as %s\nserial %s\nruns %s\npaired since %s, %s pairings\n"
                        .formatted(
                                d.name(),
                                d.model(),
                                d.serial(),
                                active().release(),
                                CLOCK.format(pair.formedAt()),
                                pair.formed()));
    }

    private void sides() throws IOException {
        StringBuilder text = new StringBuilder();
        for (int number = 1; number <= pair.size(); number++) {
            addSide(number, text);
        }
        terminal.show(text.toString());
    }

    private void addSide(int number, StringBuilder text) {
        Machine one = pair.member(number);
        String role = number == pair.lead() ? "active" : "stands by";
        String runs = "%s, runs %s".formatted(inWords(pair.standing(number)), one.release());
        boolean away = pair.standing(number) == Stack.Standing.AWAY;
        text.append(
                "%s, serial %s, %s, %s, %s starts\n"
                        .formatted(
                                SIDES.get(number - 1),
                                one.description().serial(),
                                away ? "does not answer" : role,
                                away ? "-" : runs,
                                one.starts()));
    }

    private static String inWords(Stack.Standing standing) {
        return switch (standing) {
            case WHOLE -> "in step";
            case JOINING -> "catching up";
            case APART -> "out of step";
            case AWAY -> "gone";
        };
    }

    private void store() throws IOException {
        StringBuilder text = new StringBuilder();
        for (Machine one : pair.whole()) {
            text.append(
                    "store %s holds %s, %s empty\n"
                            .formatted(
                                    side(one),
                                    one.description().flashBytes(),
                                    one.flash().freeBytes()));
            one.flash()
                    .files()
                    .forEach((name, size) -> text.append("* %s, %s\n".formatted(name, size)));
        }
        terminal.show(text.toString());
    }

    private void start() throws IOException {
        terminal.show(
                "this %s\nnext %s\nor %s\n%s\n"
                        .formatted(
                                active().runningImage(),
                                active().next(),
                                active().fallback().isEmpty() ? "none" : active().fallback(),
                                pair.whole().stream().allMatch(Machine::isChoiceKept)
                                        ? "fixed"
                                        : "loose"));
    }

    private void rules(List<String> lines) throws IOException {
        terminal.show(
                lines.stream().map(line -> line + "\n").collect(Collectors.joining())
                        + "## end of %s ##\n".formatted(lines.size()));
    }

    private void rows(Map<String, String> rows) throws IOException {
        terminal.show(
                rows.isEmpty()
                        ? "none\n"
                        : rows.entrySet().stream()
                                .map(row -> "%s, %s\n".formatted(row.getKey(), row.getValue()))
                                .collect(Collectors.joining()));
    }

    private void licences() throws IOException {
        terminal.show(
                active().licences().shown().entrySet().stream()
                                .map(
                                        one ->
                                                "%s, valid until %s\n"
                                                        .formatted(one.getKey(), one.getValue()))
                                .collect(Collectors.joining())
                        + "that is all\n");
    }

    private void health() throws IOException {
        terminal.show(
                pair.whole().stream()
                        .map(one -> "%1$s power, good\n%1$s fans, good\n".formatted(side(one)))
                        .collect(Collectors.joining()));
    }

    private void keepRules() throws IOException {
        List<String> now = active().settings();
        pair.whole().forEach(one -> one.adopt(now, now));
        terminal.show("rules kept\n");
    }

    private void rulesAnew() throws IOException {
        Optional<List<String>> lines = terminal.readLines("##");
        lines.ifPresent(taken -> active().takeSettings(taken));
        terminal.show(
                lines.map(taken -> "%s rules taken\n".formatted(taken.size()))
                        .orElse("refused - no end\n"));
    }

    private void keysAnew() throws IOException {
        List<String> given = terminal.readLines("##").orElse(List.of());
        for (String line : given) {
            Matcher key = KEY.matcher(line);
            if (!key.matches()
                    || !pair.whole().stream()
                            .allMatch(side -> side.licences().take(key.group(1), key.group(2)))) {
                terminal.show("refused - no key of this pair: %s\n".formatted(line));
                return;
            }
        }
        terminal.show("%s keys taken\n".formatted(given.size()));
    }

    private void pull(URI source, String name) throws IOException {
        String said;
        try {
            said = new Fetch(active()).fetch(source, name).replace("brought", "pulled");
        } catch (IOException failed) {
            said = "refused - " + failed.getMessage();
        }
        terminal.show(said + "\n");
    }

    private void share(String name) throws IOException {
        if (!active().flash().files().containsKey(name)) {
            terminal.show("unknown - %s\n".formatted(name));
            return;
        }
        terminal.show(
                pair.pass(name)
                        .map(full -> "refused - no room on %s\n".formatted(side(full)))
                        .orElse("both have it\n"));
    }

    private void fingerprint(String name) throws IOException {
        terminal.show(
                pair.whole().stream()
                        .map(
                                one ->
                                        one.flash()
                                                .sha256(name)
                                                .map(
                                                        digest ->
                                                                "%s sha-256 %s\n"
                                                                        .formatted(
                                                                                side(one), digest))
                                                .orElse("not stored on %s\n".formatted(side(one))))
                        .collect(Collectors.joining()));
    }

    private void burn(String name) throws IOException {
        if (pair.whole().stream().anyMatch(one -> name.equals(one.runningImage()))) {
            terminal.show("refused - %s runs\n".formatted(name));
        } else if (terminal.confirmed("Burn %s on both sides, yes/no? ".formatted(name), "yes")) {
            pair.whole().forEach(one -> one.drop(name));
            terminal.show("burnt\n");
        } else {
            terminal.show("spared\n");
        }
    }

    private void choose(String next, String otherwise) throws IOException {
        Optional<Machine> without = pair.without(next);
        if (without.isPresent()) {
            terminal.show(
                    "refused - %s is not stored on %s\n".formatted(next, side(without.get())));
            return;
        }
        pair.whole().forEach(one -> one.choose(next, otherwise));
        terminal.show("next is %s, loose\n".formatted(next));
    }

    private boolean restartPair() throws IOException {
        if (active().takeOnce(Fault.ASKS_SOMETHING_NEW)
                && !terminal.confirmed(
                        "Sessions are open. Write them to the book first, yes/no? ", "yes")) {
            terminal.show("stayed\n");
            return true;
        }
        if (!terminal.confirmed(
                "Both sides go down and nothing passes. Restart, yes/no? ", "yes")) {
            terminal.show("stayed\n");
            return true;
        }
        terminal.write("both go down\n");
        pair.restart();
        return false;
    }

    private void restartSide(String side) throws IOException {
        if (active().takeOnce(Fault.ASKS_SOMETHING_NEW)
                && !terminal.confirmed(
                        "Sessions are open. Write them to the book first, yes/no? ", "yes")) {
            terminal.show("stayed\n");
            return;
        }
        if (terminal.confirmed("Restart %s, yes/no? ".formatted(side), "yes")) {
            terminal.show("%s goes down\n".formatted(side));
            pair.restart(numberOf(side));
        } else {
            terminal.show("stayed\n");
        }
    }
}
