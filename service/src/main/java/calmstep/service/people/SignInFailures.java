package calmstep.service.people;

import java.time.Instant;
import org.springframework.data.jpa.repository.JpaRepository;

interface SignInFailures extends JpaRepository<SignInFailure, Long> {
    long countByNameAndAtAfter(String name, Instant since);
}
