package calmstep.service.runs;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "run")
class RunRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long planId;
    String name = "";
    String state = "armed";
    String startedBy = "";
    Instant startedAt = Instant.EPOCH;
    @Nullable Instant finishedAt;
    String limits = "";
    boolean rehearsal;
    /** Empty where it is not held. */
    String heldWhy = "";

    @Version
    int version;

    long id() {
        return id == null ? 0 : id;
    }

    boolean isOver() {
        return state.equals("finished") || state.equals("abandoned");
    }
}
