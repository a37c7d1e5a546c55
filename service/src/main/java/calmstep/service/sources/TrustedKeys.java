package calmstep.service.sources;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface TrustedKeys extends JpaRepository<TrustedKey, String> {
    List<TrustedKey> findAllByOrderByName();

    Optional<TrustedKey> findByFingerprint(String fingerprint);
}
