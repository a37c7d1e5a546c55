package calmstep.service.fleet;

import org.springframework.data.jpa.repository.JpaRepository;

interface StopKeyRows extends JpaRepository<StopKey, String> {}
