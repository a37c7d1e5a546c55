package calmstep.service.fleet;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface ReadingRows extends JpaRepository<ReadingRow, Long> {
    Optional<ReadingRow> findFirstByDeviceIdOrderByIdDesc(long deviceId);

    /** The newest reading of each device that has one. */
    @Query(
            value = "select distinct on (device_id) * from reading order by device_id, id desc",
            nativeQuery = true)
    List<ReadingRow> newestOfEach();

    /**
     * How old what is known is: the newest reading of each device taken, the newest and the oldest
     * of those, and how many there are.
     */
    @Query(
            value =
                    "select max(t) as newest, min(t) as oldest, count(*) as devices from (select"
                            + " max(taken_at) as t from reading group by device_id) as each_device",
            nativeQuery = true)
    Freshness freshness();

    /** A row of {@link #freshness}. */
    interface Freshness {
        @Nullable Instant getNewest();

        @Nullable Instant getOldest();

        long getDevices();
    }

    List<ReadingRow> findTop20ByDeviceIdOrderByIdDesc(long deviceId);
}
