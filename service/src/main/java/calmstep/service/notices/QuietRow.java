package calmstep.service.notices;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "quiet")
class QuietRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long unitId;
    String device = "";
    Instant askedAt = Instant.EPOCH;
    Instant until = Instant.EPOCH;
    @Nullable Instant liftedAt;
}
