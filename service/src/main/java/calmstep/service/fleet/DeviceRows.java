package calmstep.service.fleet;

import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface DeviceRows extends JpaRepository<DeviceRow, Long> {
    Optional<DeviceRow> findByName(String name);

    /** Also of one that is retired: what was kept of it is read as its family writes. */
    @Query(value = "select family from device where name = :name", nativeQuery = true)
    Optional<String> familyOf(String name);

    List<DeviceRow> findByNameIn(Collection<String> names);

    @Query(
            "select new calmstep.service.fleet.Fleet$At(device.address, device.name, device.site)"
                    + " from DeviceRow device")
    List<Fleet.At> places();

    /** Number of a device. */
    record Numbered(String name, long id) {}

    @Query(
            "select new calmstep.service.fleet.DeviceRows$Numbered(device.name, device.id) from"
                    + " DeviceRow device where device.name in :names")
    List<Numbered> numbered(Collection<String> names);

    List<DeviceRow> findAllByOrderByName();

    @Modifying
    @Query("update DeviceRow device set device.letIn = :login where device.id = :id")
    void letIn(long id, String login);

    /** Also by one that is retired: what was done to it is known by it. */
    @Query(value = "select exists (select 1 from device where name = :name)", nativeQuery = true)
    boolean isTaken(String name);

    /** Of a device that may be retired. */
    @Query(value = "select id from device where name = :name", nativeQuery = true)
    Optional<Long> idOfAny(String name);

    /** How a device was called before, which may be retired: a list of names. */
    @Query(value = "select former_names from device where name = :name", nativeQuery = true)
    Optional<String> formerNamesOfAny(String name);

    @Query(value = "select name from device where retired_at is not null", nativeQuery = true)
    List<String> retired();

    /** It is of the fleet again. */
    @Modifying(flushAutomatically = true, clearAutomatically = true)
    @Query(value = "update device set retired_at = null where name in (:names)", nativeQuery = true)
    int bringBack(Collection<String> names);

    @Modifying
    @Query(value = "update own_check set device = :to where device = :name", nativeQuery = true)
    int renameChecks(String name, String to);

    /** Also of one in which it was set aside: it may be taken back in. */
    @Query(
            value =
                    "select run.name from run_unit join run on run.id = run_unit.run_id where"
                            + " run_unit.device_id = :deviceId and run.rehearsal = false and"
                            + " run.state not in ('finished', 'abandoned') limit 1",
            nativeQuery = true)
    Optional<String> inUnfinishedRun(long deviceId);

    /** Name of the run that drives a device at this moment. */
    @Query(
            value =
                    "select run.name from lease join run_unit on run_unit.id = lease.unit_id join"
                        + " run on run.id = run_unit.run_id where lease.device_id = :deviceId and"
                        + " lease.until > now()",
            nativeQuery = true)
    Optional<String> driver(long deviceId);
}
