package calmstep.service.rehearsals;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface RehearsalRows extends JpaRepository<RehearsalRow, Long> {
    List<RehearsalRow> findByPlanIdOrderByNumberDesc(long planId);

    Optional<RehearsalRow> findByPlanIdAndNumber(long planId, int number);
}
