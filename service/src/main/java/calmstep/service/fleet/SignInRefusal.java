package calmstep.service.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** A device refused one of its logins. */
@Entity
@Table(name = "sign_in_refusal")
class SignInRefusal {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long deviceId;
    String login = "";
    Instant at = Instant.EPOCH;
}
