package calmstep.service.people;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface Accesses extends JpaRepository<Access, Long> {
    Optional<Access> findBySecretHash(String secretHash);

    List<Access> findByPersonNameAndKindAndRevokedAtIsNullOrderById(String name, String kind);
}
