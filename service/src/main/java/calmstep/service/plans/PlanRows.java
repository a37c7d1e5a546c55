package calmstep.service.plans;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface PlanRows extends JpaRepository<PlanRow, Long> {
    Optional<PlanRow> findByName(String name);

    List<PlanRow> findAllByOrderByIdDesc();
}
