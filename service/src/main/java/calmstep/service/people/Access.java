package calmstep.service.people;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** What opens the interface: the secret itself is shown once and kept only as a hash. */
@Entity
class Access {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    @ManyToOne(optional = false)
    Person person = new Person();

    String kind = "";
    String secretHash = "";
    String label = "";
    Instant createdAt = Instant.EPOCH;
    @Nullable Instant expiresAt;
    @Nullable Instant revokedAt;

    boolean isOpen(Instant now) {
        return revokedAt == null
                && (expiresAt == null || now.isBefore(expiresAt))
                && !person.disabled;
    }
}
