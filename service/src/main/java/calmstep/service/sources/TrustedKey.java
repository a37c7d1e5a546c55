package calmstep.service.sources;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import java.time.Instant;

/** Whose bundles are taken here. */
@Entity
class TrustedKey {
    @Id String name = "";

    String publicKey = "";
    String fingerprint = "";
    Instant trustedAt = Instant.EPOCH;
    String trustedBy = "";
}
