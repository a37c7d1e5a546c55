package calmstep.service.backups;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface BackupRows extends JpaRepository<BackupRow, Long> {
    List<BackupRow> findByUnitIdAndHopOrderById(long unitId, int hop);

    List<BackupRow> findByUnitIdOrderById(long unitId);

    List<BackupRow> findByDeviceIdOrderByIdDesc(long deviceId);

    /**
     * Removes those from before a time, but for the newest of each device and kind; how many went.
     */
    @Modifying
    @Query(
            value =
                    "delete from backup where id in (select id from (select id, taken_at,"
                        + " row_number() over (partition by device_id, kind order by id desc) as"
                        + " place from backup) ranked where place > :newest and taken_at <"
                        + " :before)",
            nativeQuery = true)
    int letGo(Instant before, int newest);

    Optional<BackupRow> findFirstByDeviceIdAndKindOrderByIdDesc(long deviceId, String kind);
}
