package calmstep.service.discovery;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface RangeRows extends JpaRepository<RangeRow, String> {
    List<RangeRow> findAllByOrderByName();
}
