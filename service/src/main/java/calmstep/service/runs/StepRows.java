package calmstep.service.runs;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface StepRows extends JpaRepository<StepRow, Long> {
    List<StepRow> findByUnitIdOrderByOrdinal(long unitId);

    @Query("select s from StepRow s where s.unitId in (select u.id from UnitRow u where u.runId = :runId) order by s.unitId, s.ordinal")
    List<StepRow> ofRun(long runId);
}
