package calmstep.core.device;

import java.util.List;
import java.util.Optional;

/** The way to one device. */
public interface DeviceDoor {
    /** Signs in, or gives the session that is open already. May throw {@link DeviceTrouble}. */
    DeviceSession session();

    /** Where the device is to be found, without signing in. Never throws for a silent device. */
    Whereabouts whereabouts();

    /**
     * The way into its boot loader, while it stands there; empty where nobody described one. May
     * throw {@link DeviceTrouble}.
     */
    default Optional<LoaderSession> loader() {
        return Optional.empty();
    }

    /** Where a device is to be found. */
    sealed interface Whereabouts {
        /** Its command line accepts connections. */
        record AtCommandLine() implements Whereabouts {}

        /** Only its console line answers, with the boot loader's prompt. */
        record InBootLoader(List<String> lastLines) implements Whereabouts {}

        record Silent(String seen) implements Whereabouts {}
    }
}
