package calmstep.service.shelf;

import java.time.Instant;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

interface ShelfImages extends JpaRepository<ShelfImage, Long> {
    Optional<ShelfImage> findByFileName(String fileName);

    /** An image for which a transfer to a device is open. Fifty devices ask at once: one question, without a transaction around it. */
    @Transactional(propagation = Propagation.SUPPORTS)
    @Query("select i from ShelfImage i where i.fileName = :fileName and exists (select 1 from Transfer t where t.fileName = i.fileName and t.deviceAddress = :deviceAddress and t.until > :now)")
    Optional<ShelfImage> findOpenFor(String fileName, String deviceAddress, Instant now);
}
