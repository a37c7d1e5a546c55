package calmstep.service.jobs;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

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
    String doing = "";
    String troubles = "";
    Instant startedAt = Instant.EPOCH;
    Instant heardAt = Instant.EPOCH;
    String startedBy = "";
}
