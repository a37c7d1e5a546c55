package calmstep.service.mail;

import java.time.Instant;
import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface MailRows extends JpaRepository<MailRow, Long> {
    List<MailRow> findBySentAtIsNullAndNextAtLessThanEqualOrderById(Instant now);

    List<MailRow> findByRunIdOrderById(long runId);

    boolean existsByRunIdAndSiteAndSentAtIsNull(long runId, String site);

    boolean existsByRunIdAndSiteAndOccasion(long runId, String site, String occasion);
}
