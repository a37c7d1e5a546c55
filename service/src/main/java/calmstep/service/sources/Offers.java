package calmstep.service.sources;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface Offers extends JpaRepository<Offer, Long> {
    List<Offer> findAllByOrderByIdDesc();

    Optional<Offer> findFirstByFileNameOrderByIdDesc(String fileName);

    void deleteBySource(String source);
}
