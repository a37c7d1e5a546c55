package calmstep.service.notices;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface QuietRows extends JpaRepository<QuietRow, Long> {
    List<QuietRow> findByUnitIdAndLiftedAtIsNullOrderByDevice(long unitId);

    boolean existsByDeviceAndUnitIdNotAndLiftedAtIsNull(String device, long unitId);

    /** Units whose alarms are still quiet although they are over, or their run is. */
    @Query(
            value =
                    """
                    select distinct q.unit_id from quiet q join run_unit u on u.id = q.unit_id join run r on r.id = u.run_id
                    where q.lifted_at is null and (u.state in ('settled', 'returned', 'set-aside') or r.state in ('finished', 'abandoned'))\
                    """,
            nativeQuery = true)
    List<Long> unitsThatAreOver();
}
