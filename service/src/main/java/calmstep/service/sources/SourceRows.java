package calmstep.service.sources;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface SourceRows extends JpaRepository<SourceRow, String> {
    List<SourceRow> findAllByOrderByName();
}
