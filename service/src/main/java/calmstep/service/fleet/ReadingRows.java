package calmstep.service.fleet;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface ReadingRows extends JpaRepository<ReadingRow, Long> {
    Optional<ReadingRow> findFirstByDeviceIdOrderByIdDesc(long deviceId);

    List<ReadingRow> findTop20ByDeviceIdOrderByIdDesc(long deviceId);
}
