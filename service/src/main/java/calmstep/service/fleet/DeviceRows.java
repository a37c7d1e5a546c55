package calmstep.service.fleet;

import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface DeviceRows extends JpaRepository<DeviceRow, Long> {
    Optional<DeviceRow> findByName(String name);

    @Query("select device.family from DeviceRow device where device.name = :name")
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

    /** Name of the run that drives a device at this moment. */
    @Query(
            value =
                    "select run.name from lease join run_unit on run_unit.id = lease.unit_id join"
                        + " run on run.id = run_unit.run_id where lease.device_id = :deviceId and"
                        + " lease.until > now()",
            nativeQuery = true)
    Optional<String> driver(long deviceId);
}
