package calmstep.service.checks;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface CheckRows extends JpaRepository<CheckRow, Long> {
    List<CheckRow> findByDeviceOrderByOrdinal(String device);

    List<CheckRow> findAllByOrderByDeviceAscOrdinalAsc();

    void deleteByDevice(String device);
}
