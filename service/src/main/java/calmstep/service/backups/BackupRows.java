package calmstep.service.backups;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface BackupRows extends JpaRepository<BackupRow, Long> {
    List<BackupRow> findByUnitIdAndHopOrderById(long unitId, int hop);

    List<BackupRow> findByUnitIdOrderById(long unitId);

    List<BackupRow> findByDeviceIdOrderByIdDesc(long deviceId);

    Optional<BackupRow> findFirstByDeviceIdAndKindOrderByIdDesc(long deviceId, String kind);
}
