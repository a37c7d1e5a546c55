package calmstep.service.runs;

import jakarta.persistence.LockModeType;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Lock;
import org.springframework.data.jpa.repository.Query;

interface UnitRows extends JpaRepository<UnitRow, Long> {
    List<UnitRow> findByRunIdOrderByName(long runId);

    /** The run of a unit, without loading the unit: what is loaded before it is locked may be stale by then. */
    @Query("select u.runId from UnitRow u where u.id = :id")
    Optional<Long> runOf(long id);

    @Query("select u.id from UnitRow u where u.runId = :runId and u.name = :name")
    Optional<Long> idOf(long runId, String name);

    @Lock(LockModeType.PESSIMISTIC_WRITE)
    @Query("select u from UnitRow u where u.id = :id")
    UnitRow lock(long id);

    @Query("select u from UnitRow u, RunRow r where u.runId = r.id and u.deviceId = :deviceId and r.state not in ('finished', 'abandoned') and u.state <> 'set-aside'")
    List<UnitRow> inUnfinishedRuns(long deviceId);
}
