package calmstep.service.backups;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface BackupRows extends JpaRepository<BackupRow, Long> {
    List<BackupRow> findByUnitIdAndHopOrderById(long unitId, int hop);

    List<BackupRow> findByUnitIdOrderById(long unitId);

    List<BackupRow> findByDeviceIdOrderByIdDesc(long deviceId);
}
