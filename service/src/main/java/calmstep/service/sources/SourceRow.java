package calmstep.service.sources;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "source")
class SourceRow {
    @Id String name = "";

    String url = "";
    String userName = "";
    byte[] secret = new byte[0];
    String certificate = "";
    String proxy = "";
    String proxyUser = "";
    byte[] proxySecret = new byte[0];
    int newest;
    @Nullable Instant askedAt;
    Instant changedAt = Instant.EPOCH;
    String changedBy = "";
}
