package calmstep.service.runs;

import calmstep.core.step.StepName;
import calmstep.core.step.StepRecord;
import calmstep.core.step.StepState;
import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface StepRows extends JpaRepository<StepRow, Long> {
    List<StepRow> findByUnitIdOrderByOrdinal(long unitId);

    /** How a step stands, without what it told. */
    record Standing(int hop, int detour, String name, String state, int attempts) {
        StepRecord record() {
            return new StepRecord(hop, detour, StepName.parse(name), StepState.parse(state), attempts);
        }
    }

    @Query("select new calmstep.service.runs.StepRows$Standing(s.hop, s.detour, s.name, s.state, s.attempts) from StepRow s where s.unitId = :unitId order by s.ordinal")
    List<Standing> standings(long unitId);

    /** Whether a boot choice of the run's was made, or is being made. */
    @Query("select count(s) > 0 from StepRow s where s.name = 'choose-boot' and s.state <> 'due' and s.unitId in (select u.id from UnitRow u where u.runId = :runId)")
    boolean hasChanged(long runId);

    @Query("select s from StepRow s where s.unitId in (select u.id from UnitRow u where u.runId = :runId) order by s.unitId, s.ordinal")
    List<StepRow> ofRun(long runId);
}
