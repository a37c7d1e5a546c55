package calmstep.service.sources;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** A file that a source published. */
@Entity
class Offer {
    static final String CATALOGUE = "catalogue";

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String source = "";
    int number;
    String kind = "";
    String family = "";
    String fileName = "";
    long sizeBytes;
    String sha256 = "";
    Instant seenAt = Instant.EPOCH;
}
