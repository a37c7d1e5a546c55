package calmstep.service.fleet;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface Silences extends JpaRepository<Silence, Long> {
    Optional<Silence> findFirstByDeviceIdOrderByIdDesc(long deviceId);
}
