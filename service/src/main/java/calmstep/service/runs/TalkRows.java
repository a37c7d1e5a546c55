package calmstep.service.runs;

import java.time.Instant;
import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;
import org.springframework.data.repository.query.Param;

interface TalkRows extends JpaRepository<TalkRow, Long> {
    List<TalkRow> findByUnitIdOrderById(long unitId);

    @Query(
            "select t.text from TalkRow t where t.stepId = :step and t.direction = 'overheard' and"
                    + " t.at >= :since order by t.id")
    List<String> overheard(@Param("step") long step, @Param("since") Instant since);
}
