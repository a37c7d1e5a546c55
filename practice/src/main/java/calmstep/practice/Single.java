package calmstep.practice;

import calmstep.practice.Machine.Power;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A machine that stands alone.
 *
 * @param manner how its family shows itself and is talked to
 */
record Single(Machine machine, Manner manner) implements StandIn {
    private static final String PROMPT = "loader> ";

    /** How a family of machines that stand alone shows itself and is talked to. */
    enum Manner {
        OSMER(
                OsmerShell.FAMILY,
                "OsmerR6_%s",
                "Osmer %s rev %s, release %s",
                "1.3.6.1.4.1.32473.6") {
            @Override
            void talk(Machine machine, InputStream in, OutputStream out) throws IOException {
                new OsmerShell(machine, in, out).run();
            }
        },
        QUOYLE(
                QuoyleShell.FAMILY,
                "QuoyleQ4_%s",
                "Quoyle %s%s, release %s",
                "1.3.6.1.4.1.32473.5") {
            @Override
            void talk(Machine machine, InputStream in, OutputStream out) throws IOException {
                new QuoyleShell(machine, in, out).run();
            }
        },
        IVREL(IvrelShell.FAMILY, "IvrelC5_%s", "Ivrel %s%s, release %s", "1.3.6.1.4.1.32473.7") {
            @Override
            void talk(Machine machine, InputStream in, OutputStream out) throws IOException {
                new IvrelShell(machine, in, out).run();
            }
        },
        CORVANE(
                CorvaneShell.FAMILY,
                "CorvaneV8_%s",
                "Corvane %s%s, release %s",
                "1.3.6.1.4.1.32473.9") {
            @Override
            void talk(Machine machine, InputStream in, OutputStream out) throws IOException {
                new CorvaneShell(machine, in, out).run();
            }
        },
        WENDING(WendingWeb.FAMILY, "", "Wending %s%s, release %s", "1.3.6.1.4.1.32473.8"),
        SKELDA(SkeldaObjects.FAMILY, "", "Skelda %s%s, release %s", "1.3.6.1.4.1.32473.4");

        private final String family;
        private final String greeting;
        private final String description;
        private final String object;

        Manner(String family, String greeting, String description, String object) {
            this.family = family;
            this.greeting = greeting;
            this.description = description;
            this.object = object;
        }

        /** On a line of characters; families that are spoken to otherwise have none. */
        void talk(Machine machine, InputStream in, OutputStream out) throws IOException {
            throw new IOException("no line of characters here");
        }

        static Optional<Manner> of(String family) {
            return Stream.of(values()).filter(manner -> manner.family.equals(family)).findFirst();
        }
    }

    @Override
    public MachineDescription description() {
        return machine.description();
    }

    @Override
    public void listen(Listener listener) {
        machine.listen(power -> listener.answers(power == Power.RUNNING));
    }

    @Override
    public void switchOn() {
        machine.switchOn();
    }

    @Override
    public boolean isBusy() {
        return machine.isBusy();
    }

    @Override
    public void add(Fault fault) {
        machine.add(fault);
    }

    @Override
    public boolean has(Fault fault) {
        return machine.has(fault);
    }

    @Override
    public void clearFaults() {
        machine.clearFaults();
    }

    @Override
    public String greeting() {
        return manner.greeting.formatted(machine.release());
    }

    @Override
    public void talk(InputStream in, OutputStream out) throws IOException {
        manner.talk(machine, in, out);
    }

    @Override
    public String console() {
        return switch (machine.power()) {
            case IN_BOOT_LOADER -> String.join("\n", machine.bootMessages()) + "\n" + PROMPT;
            case RUNNING -> "%s runs %s\n".formatted(description().name(), machine.release());
            case STARTING, OFF -> "";
        };
    }

    @Override
    public List<Voice> voices() {
        return List.of(machine.voice());
    }

    @Override
    public String loaderPrompt() {
        return machine.power() == Power.IN_BOOT_LOADER ? PROMPT : "";
    }

    @Override
    public boolean obeyAtLoader(String line, Loader.Screen screen) throws IOException {
        Optional<Loader> loader =
                machine.power() == Power.IN_BOOT_LOADER ? machine.bootLoader() : Optional.empty();
        return loader.isPresent() && loader.get().obey(line, screen);
    }

    @Override
    public Optional<SnmpPort.Shown> shown() {
        MachineDescription one = description();
        return Optional.of(machine)
                .filter(m -> m.power() == Power.RUNNING && !m.has(Fault.ANSWERS_NOBODY))
                .map(m -> shows(m, one));
    }

    private SnmpPort.Shown shows(Machine m, MachineDescription one) {
        return new SnmpPort.Shown(
                manner.description.formatted(
                        one.model(), manner == Manner.OSMER ? one.revision() : "", m.release()),
                manner.object,
                one.name(),
                one.model(),
                one.revision(),
                one.serial(),
                m.release());
    }

    @Override
    public void close() {
        machine.close();
    }
}
