package calmstep.service.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** The host key of a jump host or console server, as it was seen first. */
@Entity
@Table(name = "stop_key")
class StopKey {
    @Id String place = "";

    String fingerprint = "";
    Instant seenAt = Instant.EPOCH;
}
