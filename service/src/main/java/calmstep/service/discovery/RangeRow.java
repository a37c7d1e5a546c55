package calmstep.service.discovery;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "discovery_range")
class RangeRow {
    @Id String name = "";

    String within = "";
    String exceptFor = "";
    String site = "";
    String login = "";
    String snmpLogin = "";
    int sshPort;
    int snmpPort;
    int perSecond;
    @Nullable Instant searchedAt;
    Instant changedAt = Instant.EPOCH;
    String changedBy = "";
}
