package calmstep.service.rehearsals;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "rehearsal")
class RehearsalRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long planId;
    int number;

    /** Of what was rehearsed: when the plan's is another one, it was changed since. */
    String planSha256 = "";

    String state = "under-way";
    String asked = "[]";
    int pace;
    String startedBy = "";
    Instant startedAt = Instant.EPOCH;
    @Nullable Instant finishedAt;
    String outcome = "";
    long jobId;
}
