package calmstep.service.runs;

import jakarta.persistence.LockModeType;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Lock;
import org.springframework.data.jpa.repository.Query;

interface UnitRows extends JpaRepository<UnitRow, Long> {
    List<UnitRow> findByRunIdOrderByName(long runId);

    Optional<UnitRow> findByRunIdAndName(long runId, String name);

    @Lock(LockModeType.PESSIMISTIC_WRITE)
    @Query("select u from UnitRow u where u.id = :id")
    UnitRow lock(long id);

    @Query("select u from UnitRow u, RunRow r where u.runId = r.id and u.deviceId = :deviceId and r.state not in ('finished', 'abandoned') and u.state <> 'set-aside'")
    List<UnitRow> inUnfinishedRuns(long deviceId);
}
