package calmstep.service.jobs;

import calmstep.service.problems.Refusal;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** How far long work is. */
@Component
public class Jobs {
    private static final Duration LOST_AFTER = Duration.ofMinutes(5);

    private final JobRows rows;
    private final Clock clock;

    Jobs(JobRows rows, Clock clock) {
        this.rows = rows;
        this.clock = clock;
    }

    /**
     * A job as it stands.
     *
     * @param state {@code under-way}, {@code finished}, {@code cancelled}, or {@code lost} when its
     *     process ended in the middle
     * @param doing what it does right now; empty where one word would not tell
     * @param troubles why parts of it failed, where that is told nowhere else
     */
    public record JobView(
            long id,
            String kind,
            String state,
            int total,
            int done,
            int failed,
            String doing,
            List<String> troubles) {}

    /**
     * @return the job's identifier
     */
    @Transactional
    public long start(String kind, int total, String who) {
        Job job = new Job();
        job.kind = kind;
        job.total = total;
        job.startedAt = clock.instant();
        job.heardAt = job.startedAt;
        job.startedBy = who;
        return Optional.ofNullable(rows.save(job).id).orElseThrow();
    }

    /** One more of its parts is done. */
    @Transactional
    public void count(long id, boolean succeeded) {
        rows.count(id, succeeded ? 0 : 1, clock.instant());
    }

    @Transactional
    public void tell(long id, String doing) {
        rows.tell(id, doing, clock.instant());
    }

    /** Why one of its parts failed; one line. */
    @Transactional
    public void trouble(long id, String why) {
        rows.trouble(id, why.replace('\n', ' ') + "\n", clock.instant());
    }

    @Transactional(readOnly = true)
    public boolean isCancelled(long id) {
        return rows.findById(id).map(j -> j.state.equals("cancelled")).orElse(true);
    }

    @Transactional
    public void finish(long id) {
        rows.end(id, "finished", clock.instant());
    }

    /** What is in flight ends at its next safe point; what was done stays. */
    @Transactional
    public void cancel(long id) {
        require(id);
        rows.end(id, "cancelled", clock.instant());
    }

    @Transactional(readOnly = true)
    public JobView require(long id) {
        return rows.findById(id)
                .map(this::view)
                .orElseThrow(() -> Refusal.notFound("job", String.valueOf(id)));
    }

    @Transactional(readOnly = true)
    public List<JobView> newest() {
        return rows.findTop20ByOrderByIdDesc().stream().map(this::view).toList();
    }

    private JobView view(Job job) {
        boolean lost =
                job.state.equals("under-way")
                        && job.heardAt.plus(LOST_AFTER).isBefore(clock.instant());
        return new JobView(
                Optional.ofNullable(job.id).orElse(0L),
                job.kind,
                lost ? "lost" : job.state,
                job.total,
                job.done,
                job.failed,
                job.doing,
                job.troubles.lines().toList());
    }
}
