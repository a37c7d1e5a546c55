package calmstep.service.plans;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface Acknowledgements extends JpaRepository<Acknowledgement, Long> {
    List<Acknowledgement> findByPlanIdOrderById(long planId);
}
