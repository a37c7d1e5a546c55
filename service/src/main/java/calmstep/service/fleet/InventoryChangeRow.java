package calmstep.service.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** A change of the inventory that a person made. */
@Entity
@Table(name = "inventory_change")
class InventoryChangeRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    /** The file, or as in "rt-dunmere-1 by hand". */
    String what = "";

    String who = "";
    Instant at = Instant.EPOCH;

    /** What it changed, as it was: an inventory text. */
    String before = "";

    /** Names of devices that were not there before. */
    String added = "[]";

    boolean undone;
}
