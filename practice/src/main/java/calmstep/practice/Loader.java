package calmstep.practice;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/**
 * What can be done at the prompt of a boot loader: it knows no address of its own, brings an image
 * over TFTP alone into memory, which is gone with the next start, and starts it from there.
 */
final class Loader {
    /** How the loader of a family is spoken to. */
    private record Tongue(
            String address,
            String hasAddress,
            String load,
            String loaded,
            String start,
            String starting,
            String no) {
        static final Tongue OSMER =
                new Tongue(
                        "let address (\\S+)",
                        "address is %s",
                        "load (\\S+)",
                        "%s bytes in memory, sha256 %s",
                        "start memory",
                        "starting from memory",
                        "not done: %s");
        static final Tongue IVREL =
                new Tongue(
                        "wire/address (\\S+)",
                        "the wire has %s",
                        "memory/bring (\\S+)",
                        "memory holds %s bytes, sum %s",
                        "memory/start",
                        "memory starts",
                        "no: %s");
    }

    /** Where a loader writes. */
    interface Screen {
        void write(String text) throws IOException;
    }

    private final Machine machine;
    private final Tongue tongue;
    private final Path loaded;
    private final Phrases phrases;
    private String address = "";
    private int start;
    private Screen screen = _ -> {};

    private Loader(Machine machine, Tongue tongue) {
        this.machine = machine;
        this.tongue = tongue;
        loaded = machine.flash().memory();
        phrases =
                new Phrases()
                        .on(tongue.address(), said -> setAddress(said.group(1)))
                        .on(tongue.load(), said -> load(URI.create(said.group(1))))
                        .on(tongue.start(), _ -> startMemory());
    }

    /** Empty where the family's loader can do no more than start what is stored. */
    static Optional<Loader> of(Machine machine) {
        return switch (machine.description().family()) {
            case OsmerShell.FAMILY -> Optional.of(new Loader(machine, Tongue.OSMER));
            case IvrelShell.FAMILY -> Optional.of(new Loader(machine, Tongue.IVREL));
            default -> Optional.empty();
        };
    }

    /**
     * @return whether it understood
     */
    synchronized boolean obey(String line, Screen where) throws IOException {
        forgetWhatWasBeforeTheStart();
        screen = where;
        return phrases.obey(line).isPresent();
    }

    private void forgetWhatWasBeforeTheStart() throws IOException {
        if (start != machine.starts()) {
            start = machine.starts();
            address = "";
            Files.deleteIfExists(loaded);
        }
    }

    private void setAddress(String given) throws IOException {
        address = given;
        screen.write(tongue.hasAddress().formatted(given) + "\n");
    }

    private void load(URI source) throws IOException {
        if (!address.equals(machine.description().address())) {
            refuse(address.isEmpty() ? "it has no address yet" : "nobody answers to " + address);
        } else if (!"tftp".equals(source.getScheme())) {
            refuse("it speaks tftp alone");
        } else {
            try {
                take(source);
            } catch (IOException failed) {
                refuse(String.valueOf(failed.getMessage()));
            }
        }
    }

    private void take(URI source) throws IOException {
        Files.write(loaded, new Fetch(machine).bring(source));
        screen.write(
                tongue.loaded().formatted(Files.size(loaded), Flash.sha256(loaded).orElseThrow())
                        + "\n");
    }

    private void startMemory() throws IOException {
        PracticeImage.Checked checked = machine.labels().check(loaded);
        Optional<String> refusal =
                checked.image().isEmpty()
                        ? Optional.of(checked.problem())
                        : machine.whyNotFromMemory(checked.image().get());
        if (refusal.isPresent()) {
            refuse(refusal.get());
            return;
        }
        screen.write(tongue.starting() + "\n");
        machine.startFromMemory(checked.image().get());
    }

    private void refuse(String why) throws IOException {
        screen.write(tongue.no().formatted(why) + "\n");
    }
}
