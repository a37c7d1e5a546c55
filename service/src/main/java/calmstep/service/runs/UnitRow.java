package calmstep.service.runs;

import calmstep.core.step.UnitState;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

@Entity
@Table(name = "run_unit")
class UnitRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    long runId;
    long deviceId;
    String name = "";
    String plan = "";
    String state = UnitState.WAITING.toString();
    @Nullable String gateQuestion;
    @Nullable Instant gateAskedAt;
    boolean gateOpen;
    @Nullable String gateBy;
    @Nullable Instant gateAt;
    @Nullable String setAsideWhy;

    /** The box that a person put in the place of the one that was planned. */
    @Nullable String serial;

    /** What a person has one question of the device answered with, once. */
    @Nullable String answer;

    String turns = "[]";
    int begun;
    boolean inWork;
    boolean held;
    String site = "";

    /** Whether a person is asked at its gate. */
    boolean asks = true;

    /** Whether it counts among those that may yet hold the run. */
    boolean counted;

    /** Whether a person took its configuration over as it stands on the device. */
    boolean takesOver;

    /** Members that a person goes on without as long as they are out, a line each. */
    String without = "";

    /** What somebody wrote for the contacts of the sites that it concerns. */
    String forContacts = "";

    /** What is odd about it, a line each. */
    @Nullable String doubt;

    /** What was odd behind a hop and did not stop the next one, a line each. */
    String passedOver = "";

    /** What was odd about it and somebody accepted, a line each. */
    String accepted = "";

    @Nullable String judgedBy;
    @Nullable Instant judgedAt;
    @Nullable String judgedWhy;
    String beside = "";
    String waitsFor = "";

    @Version int version;

    long id() {
        return id == null ? 0 : id;
    }

    boolean isDoubtful() {
        return doubt != null && judgedAt == null;
    }

    boolean isOver() {
        return UnitState.parse(state).isOver();
    }
}
