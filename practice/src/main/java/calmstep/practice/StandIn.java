package calmstep.practice;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** What answers at one address: a machine that stands alone, or a stack of them. */
sealed interface StandIn extends AutoCloseable permits Single, Stack {
    static StandIn of(
            MachineDescription one, Labels labels, Path folder, PracticeFleet.Stage stage) {
        return one.members().serials().isEmpty()
                ? new Single(
                        new Machine(one, labels, folder, stage.images(), stage.pace()),
                        Single.Manner.of(one.family())
                                .orElseThrow(
                                        () ->
                                                new IllegalArgumentException(
                                                        "No stand-in speaks as %s does"
                                                                .formatted(one.family()))))
                : new Stack(one, labels, folder, stage.images(), stage.pace());
    }

    MachineDescription description();

    /** Told when it begins to answer, and when it stops. */
    interface Listener {
        void answers(boolean answers);
    }

    void listen(Listener listener);

    void switchOn();

    /** Whether it does something that takes its time on its own clock: it copies, or it starts. */
    boolean isBusy();

    void add(Fault fault);

    /** Whether it misbehaves so now. */
    boolean has(Fault fault);

    /** It misbehaves no more. */
    void clearFaults();

    /** The line that its SSH server sends first, behind the protocol's version. */
    String greeting();

    /** Talks with whoever is signed in, until they go or it goes down. */
    void talk(InputStream in, OutputStream out) throws IOException;

    /** What its console line answers to a pressed return. */
    String console();

    /** What it says on its console line of its own accord; of several members, one for each. */
    List<Voice> voices();

    /**
     * What stands before each line on its console line; empty while it is not in its boot loader.
     */
    String loaderPrompt();

    /**
     * Does what is said to its boot loader.
     *
     * @return whether it stands there and understands it
     */
    default boolean obeyAtLoader(String line, Loader.Screen screen) throws IOException {
        return false;
    }

    /** What it shows by SNMP; empty while it does not answer. */
    Optional<SnmpPort.Shown> shown();

    @Override
    void close();
}
