package calmstep.service.checks;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "own_check")
class CheckRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String device = "";
    int ordinal;
    String line = "";
    String addedBy = "";
    Instant addedAt = Instant.EPOCH;
}
