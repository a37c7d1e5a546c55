package calmstep.service.shelf;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
class ShelfImage {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String fileName = "";
    String family = "";
    String release = "";
    long sizeBytes;
    String sha256 = "";
    Instant takenInAt = Instant.EPOCH;
    String takenInBy = "";
}
