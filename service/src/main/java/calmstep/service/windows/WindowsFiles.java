package calmstep.service.windows;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface WindowsFiles extends JpaRepository<WindowsFile, Long> {
    Optional<WindowsFile> findFirstByOrderByIdDesc();
}
