package calmstep.service.runs;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

/** Leases on devices. All times are the database's, so that nodes with different clocks agree. */
interface Leases extends JpaRepository<LeaseRow, Long> {
    /**
     * Takes the lease, with a higher fence: when it is free or has run out, or when the same unit
     * held it (a revived execution overtakes the dead one; the fence stops the dead one should it
     * still breathe).
     *
     * @return the fence; empty when somebody else drives the device
     */
    @Query(
            value =
                    """
                    insert into lease (device_id, unit_id, holder, fence, until) values (:deviceId, :unitId, :holder, 1, now() + make_interval(secs => :seconds))
                    on conflict (device_id) do update set unit_id = excluded.unit_id, holder = excluded.holder, fence = lease.fence + 1, until = excluded.until
                    where lease.until < now() or lease.unit_id = excluded.unit_id
                    returning fence\
                    """,
            nativeQuery = true)
    Optional<Long> take(long deviceId, long unitId, String holder, int seconds);

    /**
     * @return 1 when this fence still holds the lease; the row stays locked until the transaction
     *     ends
     */
    @Modifying
    @Query(
            value =
                    "update lease set until = now() + make_interval(secs => :seconds) where"
                            + " device_id = :deviceId and fence = :fence",
            nativeQuery = true)
    int renew(long deviceId, long fence, int seconds);

    /**
     * Renews all that a process holds, but for those that it is renewing just now with something
     * else that it writes.
     */
    @Modifying
    @Query(
            value =
                    """
                    update lease set until = now() + make_interval(secs => :seconds)
                    where device_id in (select device_id from lease where holder = :holder and until > now() order by device_id for update skip locked)\
                    """,
            nativeQuery = true)
    int renewAll(String holder, int seconds);

    @Modifying
    @Query(
            value = "update lease set until = now() where device_id = :deviceId and fence = :fence",
            nativeQuery = true)
    int release(long deviceId, long fence);
}
