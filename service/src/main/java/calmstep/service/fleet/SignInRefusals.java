package calmstep.service.fleet;

import java.time.Instant;
import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface SignInRefusals extends JpaRepository<SignInRefusal, Long> {
    List<SignInRefusal> findByDeviceIdAndAtAfterOrderById(long deviceId, Instant since);
}
