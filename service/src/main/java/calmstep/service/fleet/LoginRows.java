package calmstep.service.fleet;

import org.springframework.data.jpa.repository.JpaRepository;

interface LoginRows extends JpaRepository<LoginRow, String> {}
