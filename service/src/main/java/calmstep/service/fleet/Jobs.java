package calmstep.service.fleet;

import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface Jobs extends JpaRepository<Job, Long> {
    @Modifying
    @Query("update Job j set j.done = j.done + 1, j.failed = j.failed + :failed where j.id = :id")
    int count(long id, int failed);

    @Modifying
    @Query("update Job j set j.state = :state where j.id = :id and j.state = 'under-way'")
    int end(long id, String state);
}
