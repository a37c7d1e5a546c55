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
    /** What can be prepared ahead is prepared, and nothing has been changed. */
    static final String ARMED = "armed";

    static final String UNDER_WAY = "under-way";
    static final String HELD = "held";

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long planId;
    String name = "";
    String state = ARMED;
    String startedBy = "";
    Instant startedAt = Instant.EPOCH;
    @Nullable Instant finishedAt;
    String limits = "";
    boolean rehearsal;

    /** Whether what is odd behind a restart waits for a judgement until the end of the path. */
    boolean goesOnWhenOdd;

    /** Empty where it is not held. */
    String heldWhy = "";

    @Version int version;

    long id() {
        return id == null ? 0 : id;
    }

    /** Whether it is neither over nor held. */
    boolean goesOn() {
        return state.equals(ARMED) || state.equals(UNDER_WAY);
    }

    boolean isOver() {
        return state.equals("finished") || state.equals("abandoned");
    }
}
