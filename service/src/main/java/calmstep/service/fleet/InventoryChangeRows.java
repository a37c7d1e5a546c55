package calmstep.service.fleet;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface InventoryChangeRows extends JpaRepository<InventoryChangeRow, Long> {
    Optional<InventoryChangeRow> findFirstByUndoneFalseOrderByIdDesc();
}
