package calmstep.service.mail;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "site_mail")
class MailRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long runId;
    String site = "";

    /** {@code before}, {@code moved} or {@code after}. */
    String occasion = "";

    Instant madeAt = Instant.EPOCH;
    @Nullable Instant sentAt;
    String sentTo = "";
    int tries;
    Instant nextAt = Instant.EPOCH;
    String trouble = "";
}
