package calmstep.service.runs;

import calmstep.core.step.StepName;
import calmstep.core.step.StepRecord;
import calmstep.core.step.StepState;
import java.time.Instant;
import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;
import org.springframework.transaction.annotation.Transactional;

interface StepRows extends JpaRepository<StepRow, Long> {
    List<StepRow> findByUnitIdOrderByOrdinal(long unitId);

    /** How a step stands, without what it told. */
    record Standing(int hop, int detour, String name, String state, int attempts) {
        StepRecord record() {
            return new StepRecord(
                    hop, detour, StepName.parse(name), StepState.parse(state), attempts);
        }
    }

    @Query(
            "select new calmstep.service.runs.StepRows$Standing(s.hop, s.detour, s.name, s.state,"
                    + " s.attempts) from StepRow s where s.unitId = :unitId order by s.ordinal")
    List<Standing> standings(long unitId);

    /**
     * A step is begun, or tried again. Nothing depends on it but what is shown, so it is one
     * statement, and takes no lease: whoever has lost his changes nothing that is over.
     */
    @Transactional
    @Modifying
    @Query(
            """
            update StepRow s set s.state = 'looking', s.attempts = s.attempts + 1, s.startedAt = coalesce(s.startedAt, :now), s.version = s.version + 1
            where s.id = :id and s.state in ('due', 'acting', 'proving')\
            """)
    int looks(long id, Instant now);

    /**
     * As {@link #looks}. What is loaded into a boot loader's memory takes its time; how long the
     * device may be away counts from when it was started.
     */
    @Transactional
    @Modifying
    @Query(
            """
            update StepRow s set s.state = 'proving', s.version = s.version + 1,
            s.intentAt = case when s.name = 'rescue' then :now else s.intentAt end
            where s.id = :id and s.state = 'acting'\
            """)
    int proves(long id, Instant now);

    /**
     * As {@link #looks}.
     *
     * @param what is waited for
     */
    @Transactional
    @Modifying
    @Query(
            "update StepRow s set s.state = 'looking', s.waiting = :what, s.version = s.version + 1"
                    + " where s.id = :id and s.state in ('due', 'looking', 'acting', 'proving')")
    int waits(long id, String what);

    /** Whether a boot choice of the run's was made, or is being made. */
    @Query(
            "select count(s) > 0 from StepRow s where s.name = 'choose-boot' and s.state <> 'due'"
                    + " and s.unitId in (select u.id from UnitRow u where u.runId = :runId)")
    boolean hasChanged(long runId);

    @Query(
            "select s from StepRow s where s.unitId in (select u.id from UnitRow u where u.runId ="
                    + " :runId) order by s.unitId, s.ordinal")
    List<StepRow> ofRun(long runId);
}
