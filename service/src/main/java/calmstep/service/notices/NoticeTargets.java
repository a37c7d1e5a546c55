package calmstep.service.notices;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface NoticeTargets extends JpaRepository<NoticeTarget, Long> {
    Optional<NoticeTarget> findByName(String name);

    List<NoticeTarget> findAllByOrderByName();
}
