package calmstep.practice;

import calmstep.practice.Machine.Power;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.util.Optional;

/** An Osmer R6: one machine that stands alone. */
record Router(Machine machine) implements StandIn {
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
    public String greeting() {
        return "OsmerR6_" + machine.release();
    }

    @Override
    public void talk(InputStream in, OutputStream out) throws IOException {
        new OsmerShell(machine, in, out).run();
    }

    @Override
    public String console() {
        return switch (machine.power()) {
            case IN_BOOT_LOADER -> String.join("\n", machine.bootMessages()) + "\nloader> ";
            case RUNNING -> "%s runs %s\n".formatted(description().name(), machine.release());
            case STARTING, OFF -> "";
        };
    }

    @Override
    public Optional<SnmpPort.Shown> shown() {
        MachineDescription one = description();
        return Optional.of(machine).filter(m -> m.power() == Power.RUNNING).map(m -> new SnmpPort.Shown("Osmer %s rev %s, release %s".formatted(one.model(), one.revision(), m.release()), "1.3.6.1.4.1.32473.6", one.name(),
                one.model(), one.revision(), one.serial(), m.release()));
    }

    @Override
    public void close() {
        machine.close();
    }
}
