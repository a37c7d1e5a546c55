package calmstep.service.runs;

import org.springframework.data.jpa.repository.JpaRepository;

interface EvidenceRows extends JpaRepository<EvidenceRow, Long> {}
