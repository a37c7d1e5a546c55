package calmstep.service.shelf;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
class Quarantined {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String fileName = "";
    String storedAs = "";
    String expected = "";
    String seen = "";
    String remedy = "";
    Instant at = Instant.EPOCH;
    String broughtBy = "";
}
