package calmstep.service.events;

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
@Table(name = "event")
class EventRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    @Nullable Long runId;
    String subject = "";
    String kind = "";
    Instant at = Instant.EPOCH;
    String who = "";
    String text = "";
    String previousHash = "";
    String hash = "";
}
