package calmstep.service.shelf;

import org.springframework.data.jpa.repository.JpaRepository;

interface Quarantine extends JpaRepository<Quarantined, Long> {}
