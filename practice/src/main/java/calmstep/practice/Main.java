package calmstep.practice;

import calmstep.core.text.RejectedText;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/** Plays a fleet from the command line, until the process is ended. */
public final class Main {
    private static final String BY_HAND = "--by-hand";
    private static final String ALARMS = "--alarms";
    private static final String MAILBOX = "--mailbox";
    private static final List<String> PORTS = List.of(BY_HAND, ALARMS, MAILBOX);

    private Main() {}

    /**
     * {@code images FLEET… FOLDER} or {@code play [--by-hand PORT] [--alarms PORT] [--mailbox PORT]
     * FLEET… IMAGES STATE}; plays until the process is ended.
     */
    public static void main(String[] given) throws Exception {
        Map<String, Integer> ports = new LinkedHashMap<>();
        List<String> rest = new ArrayList<>(List.of(given));
        for (String option : PORTS) {
            int at = rest.indexOf(option);
            if (at >= 0 && at + 1 < rest.size()) {
                ports.put(rest.remove(at), Integer.parseInt(rest.remove(at)));
            }
        }
        String[] arguments = rest.toArray(String[]::new);
        List<Path> paths = Stream.of(arguments).skip(1).map(Path::of).toList();
        try {
            if (paths.size() >= 2 && arguments[0].equals("images")) {
                for (Path fleetFile : paths.subList(0, paths.size() - 1)) {
                    PracticeFleet.writeImages(fleetFile, paths.getLast());
                }
            } else if (paths.size() >= 3 && arguments[0].equals("play")) {
                PracticeFleet fleet = new PracticeFleet();
                for (Path fleetFile : paths.subList(0, paths.size() - 2)) {
                    fleet.join(
                            fleetFile,
                            paths.get(paths.size() - 2),
                            paths.getLast(),
                            Optional.empty());
                }
                open(fleet, ports);
                System.out.printf("The practice fleet plays %s machines.%n", fleet.names().size());
                Thread.currentThread().join();
            } else {
                System.err.println(
                        "usage: images FLEET… FOLDER | play [--by-hand PORT] [--alarms PORT]"
                                + " [--mailbox PORT] FLEET… IMAGES STATE");
                System.exit(2);
            }
        } catch (RejectedText | UncheckedIOException refused) {
            System.err.println(refused.getMessage());
            System.exit(2);
        }
    }

    private static void open(PracticeFleet fleet, Map<String, Integer> ports) throws IOException {
        Optional<Mailbox> mailbox =
                ports.containsKey(MAILBOX)
                        ? Optional.of(Mailbox.open(ports.get(MAILBOX)))
                        : Optional.empty();
        if (ports.containsKey(ALARMS)) {
            AlarmSystem.open(ports.get(ALARMS), fleet::dark, Clock.systemUTC());
        }
        if (ports.containsKey(BY_HAND)) {
            ByHand.open(fleet, mailbox, ports.get(BY_HAND));
        }
    }
}
