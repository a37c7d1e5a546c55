package calmstep.service.shelf;

import java.time.Instant;
import org.springframework.data.jpa.repository.JpaRepository;

interface Transfers extends JpaRepository<Transfer, Long> {
    boolean existsByFileNameAndDeviceAddressAndUntilAfter(String fileName, String deviceAddress, Instant now);
}
