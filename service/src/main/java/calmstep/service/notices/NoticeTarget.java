package calmstep.service.notices;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "notice_target")
class NoticeTarget {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String name = "";
    String address = "";
    byte @Nullable [] secret;
    String about = "";

    /** Whether it is an alarm system that is quieted for what is in work. */
    boolean quiets;

    long toldTo;
    int tries;
    Instant nextAt = Instant.EPOCH;
    String trouble = "";
    String addedBy = "";
    Instant addedAt = Instant.EPOCH;

    @Version int version;

    List<String> kinds() {
        return List.of(about.split(" "));
    }

    String owner() {
        return "notice/" + name;
    }
}
