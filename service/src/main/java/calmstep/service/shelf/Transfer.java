package calmstep.service.shelf;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** One device may pull one file until a time. */
@Entity
class Transfer {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String fileName = "";
    String deviceAddress = "";
    Instant openedAt = Instant.EPOCH;
    Instant until = Instant.EPOCH;
}
