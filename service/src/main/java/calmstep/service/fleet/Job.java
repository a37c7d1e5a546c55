package calmstep.service.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** Long work that can be followed and cancelled. */
@Entity
class Job {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String kind = "";
    String state = "under-way";
    int total;
    int done;
    int failed;
    Instant startedAt = Instant.EPOCH;
    String startedBy = "";
}
