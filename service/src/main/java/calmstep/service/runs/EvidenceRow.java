package calmstep.service.runs;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;

@Entity
@Table(name = "step_evidence")
class EvidenceRow {
    @Id long stepId;

    String body = "";
}
