package calmstep.service.discovery;

import calmstep.dialect.Recognition.Shows;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "candidate")
class CandidateRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String address = "";
    String rangeName = "";
    String state = "found";
    Instant firstSeen = Instant.EPOCH;
    Instant lastSeen = Instant.EPOCH;
    String greeting = "";
    String hostName = "";
    String description = "";
    String family = "";
    String model = "";
    String revision = "";
    String serial = "";
    String release = "";
    String droppedWhy = "";

    @Version int version;

    void saw(Shows shows, String recognised) {
        greeting = shows.greeting();
        hostName = shows.hostName();
        description = shows.description();
        family = recognised;
        model = shows.model();
        revision = shows.revision();
        serial = shows.serial();
        release = shows.release();
    }
}
