package calmstep.service.fleet;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface SiteRows extends JpaRepository<SiteRow, String> {
    @Query(
            value =
                    "select run.name from run_unit join run on run.id = run_unit.run_id where"
                            + " run_unit.site = :site and run.rehearsal = false and run.state not"
                            + " in ('finished', 'abandoned') limit 1",
            nativeQuery = true)
    Optional<String> inUnfinishedRun(String site);

    /** Whatever stands there or is searched there, retired or not. */
    @Modifying
    @Query(
            value =
                    "with ranges as (update discovery_range set site = :to where site = :name)"
                            + " update device set site = :to where site = :name",
            nativeQuery = true)
    int moveAll(String name, String to);
}
