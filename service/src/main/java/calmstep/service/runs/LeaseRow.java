package calmstep.service.runs;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

@Entity
@Table(name = "lease")
class LeaseRow {
    @Id long deviceId;

    long unitId;
    String holder = "";
    long fence;
    Instant until = Instant.EPOCH;
}
