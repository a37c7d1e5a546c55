package calmstep.service.fleet;

import org.springframework.data.jpa.repository.JpaRepository;

interface SiteRows extends JpaRepository<SiteRow, String> {}
