package calmstep.service.events;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface EventRows extends JpaRepository<EventRow, Long> {
    List<EventRow> findByRunIdOrderById(Long runId);

    Optional<EventRow> findFirstByRunIdOrderByIdDesc(Long runId);

    List<EventRow> findTop500ByIdGreaterThanOrderById(long id);

    List<EventRow> findTop2000ByRunIdIsNullAndIdGreaterThanOrderById(long id);

    @Query("select e from EventRow e where e.subject = :subject and e.who <> :service")
    List<EventRow> saidAbout(String subject, String service);

    @Query("select coalesce(max(e.id), 0) from EventRow e")
    long newest();

    /**
     * Until the transaction ends, nobody else appends.
     *
     * @param told what its hash is taken of, behind the hash before it
     */
    @Query(
            value =
                    "select cast(append_event(:runId, :subject, :kind, :at, :who, :text, :told) as"
                            + " text)",
            nativeQuery = true)
    @Nullable String append(
            @Nullable Long runId,
            String subject,
            String kind,
            Instant at,
            String who,
            String text,
            String told);

    @Query("select coalesce(max(e.id), 0) from EventRow e where e.runId = :runId")
    long newestOf(long runId);
}
