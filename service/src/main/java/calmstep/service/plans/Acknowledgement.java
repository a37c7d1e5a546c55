package calmstep.service.plans;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;
import org.hibernate.annotations.Immutable;
import org.jspecify.annotations.Nullable;

@Entity
@Immutable
class Acknowledgement {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long planId;
    String finding = "";
    String choice = "";
    String reason = "";
    String givenBy = "";
    Instant at = Instant.EPOCH;

    /** The same word for another plan. */
    Acknowledgement copiedTo(long plan) {
        Acknowledgement copy = new Acknowledgement();
        copy.planId = plan;
        copy.finding = finding;
        copy.choice = choice;
        copy.reason = reason;
        copy.givenBy = givenBy;
        copy.at = at;
        return copy;
    }
}
