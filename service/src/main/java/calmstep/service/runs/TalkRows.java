package calmstep.service.runs;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface TalkRows extends JpaRepository<TalkRow, Long> {
    List<TalkRow> findByUnitIdOrderById(long unitId);
}
