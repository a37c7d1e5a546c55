package calmstep.service.fleet;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface Silences extends JpaRepository<Silence, Long> {
    Optional<Silence> findFirstByDeviceIdOrderByIdDesc(long deviceId);

    /** The newest silence of each device that has one. */
    @Query(
            value = "select distinct on (device_id) * from silence order by device_id, id desc",
            nativeQuery = true)
    List<Silence> newestOfEach();
}
