package calmstep.service.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;
import org.hibernate.annotations.Immutable;
import org.jspecify.annotations.Nullable;

/** A try to read a device that gave no reading. */
@Entity
@Immutable
class Silence {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long deviceId;
    Instant at = Instant.EPOCH;
    String expected = "";
    String seen = "";
    String remedy = "";

    Fleet.Silent told() {
        return new Fleet.Silent(at, expected, seen, remedy);
    }
}
