package calmstep.service.fleet;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface ReadingRows extends JpaRepository<ReadingRow, Long> {
    Optional<ReadingRow> findFirstByDeviceIdOrderByIdDesc(long deviceId);

    /** The newest reading of each device that has one. */
    @Query(value = "select distinct on (device_id) * from reading order by device_id, id desc", nativeQuery = true)
    List<ReadingRow> newestOfEach();

    List<ReadingRow> findTop20ByDeviceIdOrderByIdDesc(long deviceId);
}
