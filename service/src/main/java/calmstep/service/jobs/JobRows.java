package calmstep.service.jobs;

import java.time.Instant;
import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface JobRows extends JpaRepository<Job, Long> {
    List<Job> findTop20ByOrderByIdDesc();

    @Modifying
    @Query(
            "update Job j set j.done = j.done + 1, j.failed = j.failed + :failed, j.heardAt = :now"
                    + " where j.id = :id")
    int count(long id, int failed, Instant now);

    @Modifying
    @Query(
            "update Job j set j.troubles = concat(j.troubles, :line), j.heardAt = :now where j.id ="
                    + " :id")
    int trouble(long id, String line, Instant now);

    @Modifying
    @Query("update Job j set j.doing = :doing, j.heardAt = :now where j.id = :id")
    int tell(long id, String doing, Instant now);

    @Modifying
    @Query(
            "update Job j set j.state = :state, j.doing = '', j.heardAt = :now where j.id = :id and"
                    + " j.state = 'under-way'")
    int end(long id, String state, Instant now);
}
