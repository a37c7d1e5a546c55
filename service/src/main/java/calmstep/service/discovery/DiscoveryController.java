package calmstep.service.discovery;

import calmstep.service.fleet.Fleet;
import calmstep.service.jobs.Jobs;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api/discovery")
class DiscoveryController {
    private final Ranges ranges;
    private final Search search;
    private final Candidates candidates;
    private final Jobs jobs;

    DiscoveryController(Ranges ranges, Search search, Candidates candidates, Jobs jobs) {
        this.ranges = ranges;
        this.search = search;
        this.candidates = candidates;
        this.jobs = jobs;
    }

    record ToAccept(List<Candidates.Accepted> candidates) {}

    record ToDrop(List<String> addresses, String why) {}

    @GetMapping("/ranges")
    List<Ranges.RangeView> ranges() {
        return ranges.all();
    }

    @PutMapping("/ranges/{name}")
    @Operation(
            summary =
                    "Say which addresses may be searched, how fast, and what is asked there; kept"
                            + " for next time")
    Ranges.RangeView set(
            @PathVariable String name, @RequestBody Ranges.RangeToSet range, Principal who) {
        return ranges.set(name, range, who.getName());
    }

    @DeleteMapping("/ranges/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void forget(@PathVariable String name, Principal who) {
        ranges.forget(name, who.getName());
    }

    @PostMapping("/ranges/{name}/searches")
    @ResponseStatus(HttpStatus.ACCEPTED)
    @Operation(summary = "Search a range; answers with a job. Cancelled, it keeps what it found")
    Jobs.JobView search(@PathVariable String name, Principal who) {
        return jobs.require(search.start(name, who.getName()));
    }

    @GetMapping("/candidates")
    @Operation(
            summary =
                    "What answered in searches; dropped = true tells those that a person dropped as"
                            + " well")
    List<Candidates.CandidateView> candidates(
            @RequestParam(defaultValue = "false") boolean dropped) {
        return candidates.all(dropped);
    }

    @PostMapping("/accepted")
    @Operation(
            summary =
                    "Take candidates, or addresses that are added by hand, into the inventory; all"
                            + " or none")
    Fleet.Imported accept(@RequestBody ToAccept accepted, Principal who) {
        return candidates.accept(accepted.candidates(), who.getName());
    }

    @PostMapping("/dropped")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Operation(summary = "Drop candidates; they stay dropped in later searches")
    void drop(@RequestBody ToDrop dropped, Principal who) {
        candidates.drop(dropped.addresses(), dropped.why(), who.getName());
    }
}
