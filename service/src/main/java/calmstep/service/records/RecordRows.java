package calmstep.service.records;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface RecordRows extends JpaRepository<RecordRow, Long> {
    Optional<RecordRow> findByRunId(long runId);

    boolean existsByRunId(long runId);

    /** What is listed of a record, without its text. */
    interface Listed {
        String getRun();

        Instant getMadeAt();

        String getSha256();

        int getSettled();

        int getUnits();
    }

    @Query(
            value =
                    """
                    select run.name as run, record.made_at as madeAt, record.sha256 as sha256, count(*) filter (where unit.state = 'settled') as settled, count(unit.id) as units
                    from record join run on run.id = record.run_id left join run_unit unit on unit.run_id = run.id
                    group by record.id, run.name, record.made_at, record.sha256 order by record.id desc\
                    """,
            nativeQuery = true)
    List<Listed> listed();

    /** Runs that are over for a while and have none: whoever was to make it has died. */
    @Query(
            value =
                    """
                    select run.id from run where run.state in ('finished', 'abandoned') and not run.rehearsal and run.finished_at < now() - interval '5 seconds'
                    and exists (select 1 from run_unit where run_id = run.id) and not exists (select 1 from record where run_id = run.id)\
                    """,
            nativeQuery = true)
    List<Long> missing();

    /** One makes it, over all nodes, until the transaction ends. */
    @Query(
            value = "select 1 from pg_advisory_xact_lock(7413, cast(:runId as int))",
            nativeQuery = true)
    int oneMakesIt(long runId);
}
