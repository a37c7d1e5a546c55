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
 * The command language of the Ivrel C5: a thing, a stroke, and what is asked of it. Its access
 * points take their firmware from it.
 */
final class IvrelShell {
    static final String FAMILY = "ivrel-c5";
    private static final int PAGE = 16;
    private static final DateTimeFormatter CLOCK =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss", Locale.ROOT)
                    .withZone(ZoneOffset.UTC);

    private final Machine machine;
    private final Terminal terminal;
    private final Phrases phrases;

    IvrelShell(Machine machine, InputStream in, OutputStream out) {
        this.machine = machine;
        terminal =
                new Terminal(
                        in,
                        out,
                        PAGE,
                        new Terminal.More("-- line %s of %s -- n: next, s: stop "::formatted, 's'));
        phrases =
                new Phrases()
                        .orLast("unit/leave", _ -> false)
                        .on("unit/about", _ -> about())
                        .on("unit/health", _ -> terminal.show("power ... ok\nfans ... ok\n"))
                        .on("unit/licence-keys", _ -> tellLicenceKeys(machine))
                        .on("unit/licences", _ -> rows(machine.licences().shown()))
                        .on("slots/list", _ -> slots())
                        .on("files/list", _ -> files())
                        .on("text/now", _ -> text(machine.settings()))
                        .on("text/kept", _ -> text(machine.keptSettings()))
                        .on(
                                "text/changes",
                                _ -> terminal.show(hasUnsaved() ? "some are not kept\n" : "none\n"))
                        .on("text/keep", _ -> keepText(machine))
                        .on("text/write", _ -> write())
                        .on("wires/list", _ -> rows(machine.links()))
                        .on("wires/ends", _ -> rows(machine.description().neighbours()))
                        .on("points/list", _ -> points())
                        .on("points/bring (\\S+)", said -> bringToPoints(said.group(1)))
                        .on("points/hold (\\S+)", said -> whoHolds(said.group(1)))
                        .on("files/reach (\\S+)", said -> reach(said, machine))
                        .on(
                                "files/bring (\\S+) (\\S+)",
                                said -> bring(URI.create(said.group(1)), said.group(2)))
                        .on("files/sum (\\S+)", said -> sum(said, machine))
                        .on("files/remove (\\S+)", said -> remove(said.group(1)))
                        .on(
                                "slots/primary (\\S+) fallback (\\S+)",
                                said -> choose(said.group(1), said.group(2)))
                        .on("slots/keep", _ -> keepSlots(machine))
                        .orLast("unit/restart", _ -> restart());
    }

    private void keepSlots(Machine machine) throws IOException {
        machine.keepChoice();
        terminal.show("slots are kept\n");
    }

    private void keepText(Machine machine) throws IOException {
        machine.keepSettings();
        terminal.show("text is kept\n");
    }

    private void sum(Matcher said, Machine machine) throws IOException {
        terminal.show(
                machine.flash()
                        .sha256(said.group(1))
                        .map("sum %s\n"::formatted)
                        .orElse("there is no %s\n".formatted(said.group(1))));
    }

    private void reach(Matcher said, Machine machine) throws IOException {
        terminal.show(
                new Fetch(machine)
                                .whyNotReached(URI.create(said.group(1)))
                                .map(why -> "no: " + why)
                                .orElse("it is there")
                        + "\n");
    }

    private void tellLicenceKeys(Machine machine) throws IOException {
        text(
                machine.licences().keys().entrySet().stream()
                        .map(one -> "%s key %s".formatted(one.getKey(), one.getValue()))
                        .toList());
    }

    void run() throws IOException {
        terminal.write(
                "\nIvrel C5, %s points. Say unit/leave when you are done.\n"
                        .formatted(machine.attached().shown().size()));
        phrases.talk(
                terminal,
                () -> "%s :: ".formatted(machine.description().name()),
                "not understood: %s\n"::formatted);
    }

    private boolean hasUnsaved() {
        return !machine.settings().equals(machine.keptSettings());
    }

    private void about() throws IOException {
        MachineDescription d = machine.description();
        terminal.show(
                "name ... %s\nmodel ... %s\nserial ... %s\nsystem ... %s\nwith ... %s\nup since ... %s (start %s)\n"
                        .formatted(
                                d.name(),
                                d.model(),
                                d.serial(),
                                machine.release(),
                                d.outfit().variant(),
                                CLOCK.format(machine.startedAt()),
                                machine.starts()));
    }

    private void slots() throws IOException {
        terminal.show(
                "running ... %s\nprimary ... %s\nfallback ... %s\nkept ... %s\n"
                        .formatted(
                                machine.runningImage(),
                                machine.next(),
                                machine.fallback().isEmpty() ? "-" : machine.fallback(),
                                machine.isChoiceKept() ? "yes" : "no"));
    }

    private void files() throws IOException {
        terminal.show(
                "room ... %s of %s\n"
                                .formatted(
                                        machine.flash().freeBytes(),
                                        machine.description().flashBytes())
                        + machine.flash().files().entrySet().stream()
                                .map(file -> "%12s  %s\n".formatted(file.getValue(), file.getKey()))
                                .collect(Collectors.joining()));
    }

    private void text(List<String> lines) throws IOException {
        terminal.show(
                lines.stream().map(line -> line + "\n").collect(Collectors.joining())
                        + "(%s lines, end)\n".formatted(lines.size()));
    }

    private void rows(Map<String, String> rows) throws IOException {
        terminal.show(
                rows.isEmpty()
                        ? "none\n"
                        : rows.entrySet().stream()
                                .map(row -> "%s ... %s\n".formatted(row.getKey(), row.getValue()))
                                .collect(Collectors.joining()));
    }

    private void points() throws IOException {
        List<Attachments.Shown> points = machine.attached().shown();
        terminal.show(
                points.stream().map(one -> row(one)).collect(Collectors.joining())
                        + "%s of %s serve\n"
                                .formatted(
                                        points.stream().filter(Attachments.Shown::serves).count(),
                                        points.size()));
    }

    private static String row(Attachments.Shown one) {
        return "%s  %s  %s  %s  %s\n"
                .formatted(
                        one.what().name(),
                        one.what().model(),
                        one.what().serial(),
                        one.serves() ? one.runs() : "-",
                        one.serves() ? "serves" : "gone");
    }

    private void bringToPoints(String file) throws IOException {
        PracticeImage.Checked checked = machine.check(file);
        if (checked.image().isEmpty()) {
            terminal.show("no: %s, %s\n".formatted(file, checked.problem()));
            return;
        }
        machine.attached().preLoad(checked.image().get().version());
        terminal.show("the points bring it in\n");
    }

    private void whoHolds(String file) throws IOException {
        String release = machine.check(file).image().map(PracticeImage::version).orElse("");
        List<Attachments.Shown> points = machine.attached().shown();
        long hold =
                points.stream()
                        .filter(
                                one ->
                                        !release.isEmpty()
                                                && (one.runs().equals(release)
                                                        || one.holds().equals(release)))
                        .count();
        terminal.show(
                hold == points.size()
                        ? "all hold it\n"
                        : "%s of %s hold it\n".formatted(hold, points.size()));
    }

    private void write() throws IOException {
        Optional<List<String>> lines = terminal.readLines("(end)");
        lines.ifPresent(machine::takeSettings);
        terminal.show(
                lines.map(taken -> "%s lines written\n".formatted(taken.size()))
                        .orElse("no: there was no end\n"));
    }

    private void bring(URI source, String name) throws IOException {
        String said;
        try {
            said = new Fetch(machine).fetch(source, name);
        } catch (IOException failed) {
            said = "no: " + failed.getMessage();
        }
        terminal.show(said + "\n");
    }

    private void remove(String name) throws IOException {
        if (name.equals(machine.runningImage())) {
            terminal.show("no: %s runs\n".formatted(name));
        } else if (terminal.confirmed("Remove %s (yes or no): ".formatted(name), "yes")) {
            machine.drop(name);
            terminal.show("removed\n");
        } else {
            terminal.show("left as it is\n");
        }
    }

    private void choose(String next, String otherwise) throws IOException {
        if (machine.flash().files().containsKey(next)) {
            machine.choose(next, otherwise);
            terminal.show("slots are set, not kept\n");
        } else {
            terminal.show("no: there is no %s\n".formatted(next));
        }
    }

    private boolean restart() throws IOException {
        if (machine.takeOnce(Fault.ASKS_SOMETHING_NEW)
                && !terminal.confirmed(
                        "A scan of the air is under way, break it off (yes or no): ", "yes")) {
            terminal.show("left as it is\n");
            return true;
        }
        if (!terminal.confirmed("All points lose their controller. Restart (yes or no): ", "yes")) {
            terminal.show("left as it is\n");
            return true;
        }
        terminal.write("going down\n");
        machine.restart();
        return false;
    }
}
