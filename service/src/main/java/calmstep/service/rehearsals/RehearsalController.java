package calmstep.service.rehearsals;

import calmstep.practice.Fault;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api")
class RehearsalController {
    private final Rehearsals rehearsals;

    RehearsalController(Rehearsals rehearsals) {
        this.rehearsals = rehearsals;
    }

    /**
     * @param pace how much faster than by day; empty for the usual one
     */
    record NewRehearsal(@Nullable Integer pace, List<AskedFault> faults) {}

    record FaultView(String name, String sentence) {}

    @GetMapping("/rehearsal-faults")
    @Operation(summary = "What can be asked to go wrong in a rehearsal")
    List<FaultView> faults() {
        return Arrays.stream(Fault.values())
                .map(fault -> new FaultView(fault.toString(), fault.sentence()))
                .toList();
    }

    @PostMapping("/plans/{plan}/rehearsals")
    @ResponseStatus(HttpStatus.ACCEPTED)
    @Operation(
            summary =
                    "Play a plan against stand-ins made from the newest readings of its devices; no"
                            + " device is touched. Follow its job")
    RehearsalView start(@PathVariable String plan, @RequestBody NewRehearsal asked, Principal who) {
        return rehearsals.start(
                plan,
                asked.pace() == null ? Rehearsals.USUAL_PACE : asked.pace(),
                asked.faults(),
                who.getName());
    }

    @GetMapping("/plans/{plan}/rehearsals")
    List<RehearsalView> all(@PathVariable String plan) {
        return rehearsals.of(plan);
    }

    @GetMapping("/plans/{plan}/rehearsals/{number}")
    RehearsalView one(@PathVariable String plan, @PathVariable int number) {
        return rehearsals.find(plan, number);
    }
}
