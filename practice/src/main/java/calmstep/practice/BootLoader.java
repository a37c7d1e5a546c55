package calmstep.practice;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What happens between power and a running system: tries the chosen image, then the fallback, else
 * waits at its prompt.
 */
final class BootLoader {
    /**
     * @param image what was started; empty when the boot loader kept the machine
     * @param messages what it wrote on the console line
     */
    record Start(Optional<PracticeImage> image, List<String> messages) {}

    private BootLoader() {}

    static Start start(
            MachineDescription machine,
            Labels labels,
            Path storage,
            String next,
            String fallback,
            String settingsOf,
            String loader,
            boolean stopHere) {
        List<String> messages = new ArrayList<>(List.of("board check good, memory good"));
        if (stopHere) {
            messages.add("start: image header does not match board " + machine.revision());
            return new Start(Optional.empty(), messages);
        }
        for (String file : fallback.isEmpty() ? List.of(next) : List.of(next, fallback)) {
            messages.add("start: trying " + file);
            PracticeImage.Checked checked = checked(labels, storage, file);
            Optional<String> refusal =
                    checked.image().isEmpty()
                            ? Optional.of(checked.problem())
                            : refusal(machine, checked.image().get(), settingsOf, loader, false);
            if (refusal.isEmpty()) {
                messages.add("start: " + file + " runs");
                return new Start(checked.image(), messages);
            }
            messages.add("start: " + file + " not started: " + refusal.get());
        }
        return new Start(Optional.empty(), messages);
    }

    /** Of an image in two halves both must be whole, and of one release. */
    private static PracticeImage.Checked checked(Labels labels, Path storage, String choice) {
        List<PracticeImage.Checked> parts =
                Stream.of(choice.split(" \\+ "))
                        .map(file -> labels.check(storage.resolve(file)))
                        .toList();
        Optional<PracticeImage.Checked> bad =
                parts.stream().filter(part -> part.image().isEmpty()).findFirst();
        if (bad.isPresent() || parts.size() == 1) {
            return bad.orElse(parts.getFirst());
        }
        List<PracticeImage> halves = parts.stream().flatMap(part -> part.image().stream()).toList();
        boolean match =
                halves.stream().map(PracticeImage::version).distinct().count() == 1
                        && Set.of("upper", "lower")
                                .equals(
                                        halves.stream()
                                                .map(PracticeImage::variant)
                                                .collect(Collectors.toSet()));
        PracticeImage first = halves.getFirst();
        return match
                ? new PracticeImage.Checked(
                        Optional.of(
                                new PracticeImage(
                                        choice,
                                        first.family(),
                                        first.component(),
                                        first.version(),
                                        first.revisions(),
                                        first.takesSettingsFrom(),
                                        first.sizeBytes(),
                                        "",
                                        first.rules())),
                        "")
                : new PracticeImage.Checked(Optional.empty(), "its halves do not match");
    }

    /**
     * @param forAll whether it is an image that is made for every variant
     */
    static Optional<String> refusal(
            MachineDescription machine,
            PracticeImage image,
            String settingsOf,
            String loader,
            boolean forAll) {
        if (!image.family().equals(machine.family())) {
            return Optional.of("made for " + image.family());
        }
        if (!image.component().equals("system")) {
            return Optional.of("it is an image of the " + image.component());
        }
        if (machine.family().equals(QuoyleShell.FAMILY) && !image.variant().isEmpty()) {
            return Optional.of("it is the " + image.variant() + " half alone");
        }
        Optional<String> madeForOthers =
                forAll ? Optional.empty() : madeForOthers(machine, image, settingsOf);
        if (madeForOthers.isPresent()) {
            return madeForOthers;
        }
        if (!image.revisions().contains("any") && !image.revisions().contains(machine.revision())) {
            return Optional.of(
                    "made for board "
                            + String.join(", ", image.revisions())
                            + ", this is "
                            + machine.revision());
        }
        if (Releases.isOlder(settingsOf, image.takesSettingsFrom())) {
            return Optional.of(
                    "the settings were written by "
                            + settingsOf
                            + ", it reads those of "
                            + image.takesSettingsFrom()
                            + " and later");
        }
        String needed = image.rules().needsLoader();
        return needed.isEmpty() || loader.isEmpty() || !Releases.isOlder(loader, needed)
                ? Optional.empty()
                : Optional.of("this loader is " + loader + ", it needs " + needed);
    }

    /**
     * What an image is made for beside boards. A release among it is the one that a delta builds
     * upon.
     */
    private static Optional<String> madeForOthers(
            MachineDescription machine, PracticeImage image, String settingsOf) {
        if (machine.outfit().variant().isEmpty()) {
            return Optional.empty();
        }
        Set<String> words = new TreeSet<>(List.of(image.variant().split(" ")));
        Optional<String> base = words.stream().filter(word -> word.matches("r\\d+")).findFirst();
        base.ifPresent(words::remove);
        if (!words.equals(Set.of(machine.outfit().variant().split(" ")))) {
            return Optional.of(
                    "made for \"%s\", this is \"%s\""
                            .formatted(String.join(" ", words), machine.outfit().variant()));
        }
        // Once it ran, it stands on its own: what it builds upon is needed for its first start.
        return buildsUpon(base, settingsOf, image);
    }

    private static Optional<String> buildsUpon(
            Optional<String> base, String settingsOf, PracticeImage image) {
        return base.filter(
                        release ->
                                !release.equals(settingsOf) && !image.version().equals(settingsOf))
                .map(release -> "it builds upon %s, this ran %s".formatted(release, settingsOf));
    }
}
