package calmstep.service.discovery;

import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface CandidateRows extends JpaRepository<CandidateRow, Long> {
    Optional<CandidateRow> findByAddress(String address);

    List<CandidateRow> findAllByOrderById();

    List<CandidateRow> findByAddressIn(Collection<String> addresses);
}
