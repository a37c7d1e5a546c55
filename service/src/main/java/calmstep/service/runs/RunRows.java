package calmstep.service.runs;

import jakarta.persistence.LockModeType;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Lock;
import org.springframework.data.jpa.repository.Query;

interface RunRows extends JpaRepository<RunRow, Long> {
    Optional<RunRow> findByName(String name);

    List<RunRow> findByRehearsalFalseOrderByIdDesc();

    /** As {@link UnitRows#runOf}: to lock a run that was not loaded before. */
    @Query("select r.id from RunRow r where r.name = :name")
    Optional<Long> idOf(String name);

    @Lock(LockModeType.PESSIMISTIC_WRITE)
    @Query("select r from RunRow r where r.id = :id")
    RunRow lock(long id);
}
