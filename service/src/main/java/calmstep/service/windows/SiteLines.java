package calmstep.service.windows;

import calmstep.core.window.NightRules;
import calmstep.service.fleet.Fleet;
import calmstep.service.shelf.Lines;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Whose address it is, and the link to its site as the windows that hold say. */
@Component
class SiteLines implements Lines {
    private final Fleet fleet;
    private final Windows windows;

    SiteLines(Fleet fleet, Windows windows) {
        this.fleet = fleet;
        this.windows = windows;
    }

    @Override
    @Transactional(readOnly = true)
    public Optional<End> to(String address) {
        return fleet.at(address).map(device -> new End(device.name(), device.site(), Optional.ofNullable(windows.current().orElse(NightRules.NONE).links().get(device.site()))));
    }
}
