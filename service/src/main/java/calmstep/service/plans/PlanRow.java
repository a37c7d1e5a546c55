package calmstep.service.plans;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "plan")
class PlanRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String name = "";
    String target = "";
    String state = "draft";
    String body = "";
    String devices = "[]";
    String wishes = "{}";
    String begins = "next-window";
    String prefer = "fewest-restarts";
    int alternative;
    String roles = "as-they-come";

    /** Empty where no windows were known. */
    String nights = "";

    /** When each site's nights begin, as many as were ever planned. */
    String siteNights = "{}";

    String writtenBy = "";
    Instant writtenAt = Instant.EPOCH;
    @Nullable String approvedBy;
    @Nullable Instant approvedAt;

    @Version int version;

    long id() {
        return id == null ? 0 : id;
    }
}
