package calmstep.service.fleet;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface DeviceRows extends JpaRepository<DeviceRow, Long> {
    Optional<DeviceRow> findByName(String name);

    Optional<DeviceRow> findByAddress(String address);

    List<DeviceRow> findAllByOrderByName();
}
