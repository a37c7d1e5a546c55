package calmstep.service.shelf;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface ShelfImages extends JpaRepository<ShelfImage, Long> {
    Optional<ShelfImage> findByFileName(String fileName);
}
