package calmstep.service.runs;

import jakarta.persistence.LockModeType;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Lock;
import org.springframework.data.jpa.repository.Query;

interface UnitRows extends JpaRepository<UnitRow, Long> {
    List<UnitRow> findByRunIdOrderByName(long runId);

    List<UnitRow> findByRunIdAndNameIn(long runId, Collection<String> names);

    @Query(
            "select count(u) from UnitRow u where u.runId = :runId and u.state not in ('settled',"
                    + " 'returned', 'set-aside')")
    long countNotOver(long runId);

    /** How many units of a run are in a state. */
    record StateCount(long runId, String state, long units) {}

    @Query(
            "select new calmstep.service.runs.UnitRows$StateCount(u.runId, u.state, count(u)) from"
                    + " UnitRow u group by u.runId, u.state")
    List<StateCount> countStates();

    long countByRunId(long runId);

    long countByRunIdAndState(long runId, String state);

    long countByRunIdAndCountedTrue(long runId);

    List<UnitRow> findByDeviceIdOrderByIdDesc(long deviceId);

    /**
     * The run of a unit, without loading the unit: what is loaded before it is locked may be stale
     * by then.
     */
    @Query("select u.runId from UnitRow u where u.id = :id")
    Optional<Long> runOf(long id);

    @Query("select u.id from UnitRow u where u.runId = :runId and u.name = :name")
    Optional<Long> idOf(long runId, String name);

    @Lock(LockModeType.PESSIMISTIC_WRITE)
    @Query("select u from UnitRow u where u.id = :id")
    UnitRow lock(long id);

    @Query(
            "select u from UnitRow u, RunRow r where u.runId = r.id and u.deviceId in :devices and"
                + " r.rehearsal = false and r.state not in ('finished', 'abandoned') and u.state <>"
                + " 'set-aside' order by u.name")
    List<UnitRow> inUnfinishedRuns(Collection<Long> devices);

    /**
     * Whom the units are beside that are in work now, as texts, with whom this one shares the
     * world: those of all runs, or those of its own rehearsal.
     */
    @Query(
            """
            select u.beside from UnitRow u, RunRow r where u.runId = r.id and u.inWork = true and u.state not in ('settled', 'returned', 'set-aside') and r.state not in ('finished', 'abandoned')
            and (r.id = :runId or r.rehearsal = false and not exists (select 1 from RunRow own where own.id = :runId and own.rehearsal = true))\
            """)
    List<String> besideThoseInWork(long runId);

    /**
     * One begins at a time, over all nodes, until the transaction ends: two that must not be beside
     * each other would else both find nobody in work.
     */
    @Query(value = "select 1 from pg_advisory_xact_lock(7411)", nativeQuery = true)
    int oneBeginsAtATime();

    /**
     * One run starts at a time, over all nodes, until the transaction ends: two with the same
     * device would else both find it free.
     */
    @Query(value = "select 1 from pg_advisory_xact_lock(7412)", nativeQuery = true)
    int oneStartsAtATime();
}
