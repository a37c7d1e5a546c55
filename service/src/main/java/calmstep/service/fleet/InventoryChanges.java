package calmstep.service.fleet;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.Inventory;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Site;
import calmstep.service.json.Json;
import java.time.Clock;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;

/** Keeps what the inventory was before a person changed it. */
@Component
class InventoryChanges {
    private static final TypeReference<List<String>> NAMES = new TypeReference<>() {};

    private final InventoryChangeRows rows;
    private final Json json;
    private final Clock clock;

    InventoryChanges(InventoryChangeRows rows, Json json, Clock clock) {
        this.rows = rows;
        this.json = json;
        this.clock = clock;
    }

    /**
     * The newest change that was not taken back.
     *
     * @param before what it changed, as an inventory text
     * @param added devices that were not there before
     */
    record Newest(String what, String who, String before, List<String> added) {}

    /**
     * Within the transaction that changes it.
     *
     * @param what the file, or as in "rt-dunmere-1 by hand"
     * @param devices those that are changed, as they were
     * @param sites those that are changed, and those of these devices
     */
    void keep(
            String what,
            String who,
            Collection<Device> devices,
            Collection<Site> sites,
            Collection<String> added) {
        if (devices.isEmpty() && sites.isEmpty() && added.isEmpty()) {
            return;
        }
        InventoryChangeRow row = new InventoryChangeRow();
        row.what = what;
        row.who = who;
        row.at = clock.instant();
        row.before =
                InventoryText.write(
                        new Inventory(List.copyOf(sites), List.copyOf(devices)),
                        InventoryText.Format.YAML);
        row.added = json.write(List.copyOf(added));
        rows.save(row);
    }

    /** Marks it as taken back; empty where there is none. */
    Optional<Newest> takeBack() {
        return rows.findFirstByUndoneFalseOrderByIdDesc()
                .map(
                        row -> {
                            row.undone = true;
                            return new Newest(
                                    row.what, row.who, row.before, json.read(row.added, NAMES));
                        });
    }
}
