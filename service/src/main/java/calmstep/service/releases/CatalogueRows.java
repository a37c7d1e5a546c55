package calmstep.service.releases;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface CatalogueRows extends JpaRepository<CatalogueRow, Long> {
    Optional<CatalogueRow> findFirstByFamilyOrderByIdDesc(String family);

    @Query("select max(c.id) from CatalogueRow c group by c.family order by c.family")
    List<Long> newestOfEach();
}
