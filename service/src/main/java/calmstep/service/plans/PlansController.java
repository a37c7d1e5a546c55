package calmstep.service.plans;

import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api/plans")
class PlansController {
    private final Plans plans;

    PlansController(Plans plans) {
        this.plans = plans;
    }

    record NewPlan(String name, List<String> devices, String target) {}

    record Acknowledged(String finding, String choice, String reason) {}

    @GetMapping
    List<PlanView> all() {
        return plans.all();
    }

    @GetMapping("/{name}")
    PlanView one(@PathVariable String name) {
        return plans.find(name);
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    @Operation(summary = "Draft a plan for devices (none named means all) and a target: a release, recommended, or newest-general")
    PlanView draft(@RequestBody NewPlan plan, Principal who) {
        return plans.draft(plan.name(), plan.devices(), plan.target(), who.getName());
    }

    @PostMapping("/{name}/acknowledgements")
    @Operation(summary = "Say to a caution what is to be done about it")
    PlanView acknowledge(@PathVariable String name, @RequestBody Acknowledged said, Principal who) {
        return plans.acknowledge(name, said.finding(), said.choice(), said.reason(), who.getName());
    }

    @PostMapping("/{name}/approval")
    @PreAuthorize("hasRole('approver')")
    @Operation(summary = "Approve a plan that is ready")
    PlanView approve(@PathVariable String name, Principal who) {
        return plans.approve(name, who.getName());
    }

    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void drop(@PathVariable String name, Principal who) {
        plans.drop(name, who.getName());
    }
}
