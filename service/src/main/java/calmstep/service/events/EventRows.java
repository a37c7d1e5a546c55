package calmstep.service.events;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface EventRows extends JpaRepository<EventRow, Long> {
    Optional<EventRow> findFirstByRunIdOrderByIdDesc(Long runId);

    List<EventRow> findByRunIdOrderById(Long runId);

    List<EventRow> findTop500ByIdGreaterThanOrderById(long id);

    @Query("select coalesce(max(e.id), 0) from EventRow e")
    long newest();

    @Query(value = "select 1 from pg_advisory_xact_lock(26040)", nativeQuery = true)
    int lockForAppending();

    @Query("select coalesce(max(e.id), 0) from EventRow e where e.runId = :runId")
    long newestOf(long runId);
}
