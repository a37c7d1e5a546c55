package calmstep.service.runs;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface StepRows extends JpaRepository<StepRow, Long> {
    List<StepRow> findByUnitIdOrderByOrdinal(long unitId);
}
