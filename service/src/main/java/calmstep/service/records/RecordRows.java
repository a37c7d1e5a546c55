package calmstep.service.records;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface RecordRows extends JpaRepository<RecordRow, Long> {
    Optional<RecordRow> findByRunId(long runId);

    List<RecordRow> findAllByOrderByIdDesc();
}
