package calmstep.service.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.Immutable;
import org.jspecify.annotations.Nullable;

@Entity
@Immutable
@Table(name = "reading")
class ReadingRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long deviceId;
    Instant takenAt = Instant.EPOCH;
    String body = "";
}
