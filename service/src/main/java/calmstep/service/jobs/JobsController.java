package calmstep.service.jobs;

import io.swagger.v3.oas.annotations.Operation;
import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api/jobs")
class JobsController {
    private final Jobs jobs;

    JobsController(Jobs jobs) {
        this.jobs = jobs;
    }

    @GetMapping
    @Operation(summary = "The newest jobs: readings, searches, fetches")
    List<Jobs.JobView> jobs() {
        return jobs.newest();
    }

    @GetMapping("/{id}")
    Jobs.JobView job(@PathVariable long id) {
        return jobs.require(id);
    }

    @DeleteMapping("/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Operation(summary = "Cancel a job; what it did so far stays")
    void cancel(@PathVariable long id) {
        jobs.cancel(id);
    }
}
