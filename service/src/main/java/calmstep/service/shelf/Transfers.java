package calmstep.service.shelf;

import java.time.Instant;
import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface Transfers extends JpaRepository<Transfer, Long> {
    @Query(
            "select distinct t.fileName from Transfer t where t.deviceAddress = :deviceAddress and"
                    + " t.until > :now")
    List<String> namesOpenFor(String deviceAddress, Instant now);
}
