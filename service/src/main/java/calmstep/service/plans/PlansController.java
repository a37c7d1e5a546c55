package calmstep.service.plans;

import calmstep.core.path.Preference;
import calmstep.core.plan.NightsView;
import calmstep.core.plan.Start;
import calmstep.core.plan.WayWanted;
import calmstep.service.fleet.Chosen;
import calmstep.service.problems.Refusal;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api/plans")
class PlansController {
    private final Plans plans;
    private final PlannedWork work;
    private final Chosen chosen;
    private final PlanCalendars calendars;

    PlansController(Plans plans, PlannedWork work, Chosen chosen, PlanCalendars calendars) {
        this.plans = plans;
        this.work = work;
        this.chosen = chosen;
        this.calendars = calendars;
    }

    /**
     * @param where devices that a selection means, used when none is named; both empty means all
     * @param begins {@code next-window} (also where nothing is given), {@code now}, or a moment
     * @param prefer what its paths are to be good at; {@code fewest-restarts} where nothing is
     *     given
     * @param alternative which of the other paths it takes, from 1
     * @param roles which member of a unit is active when all is done; {@code as-they-come} where
     *     nothing is given
     */
    record NewPlan(
            String name,
            List<String> devices,
            @Nullable String where,
            String target,
            @Nullable String begins,
            @Nullable String prefer,
            @Nullable Integer alternative,
            @Nullable String roles) {
        WayWanted way() {
            return Refusal.reading(
                    () ->
                            new WayWanted(
                                    prefer == null
                                            ? WayWanted.BEST.prefer()
                                            : Preference.parse(prefer),
                                    alternative == null ? 0 : alternative,
                                    roles == null
                                            ? WayWanted.BEST.roles()
                                            : WayWanted.Roles.parse(roles)));
        }
    }

    record NewName(String name) {}

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
    @Operation(
            summary =
                    "Draft a plan for the devices that are named, or that a selection means"
                            + " (neither means all), and a target: a release or a policy")
    PlanView draft(@RequestBody NewPlan plan, Principal who) {
        List<String> devices = devicesOf(plan);
        return plans.draft(
                plan.name(),
                devices,
                plan.target(),
                plan.way(),
                plan.begins() == null ? Start.NEXT_WINDOW : plan.begins(),
                who.getName());
    }

    private List<String> devicesOf(NewPlan plan) {
        String where = plan.where() == null ? "" : plan.where();
        List<String> devices =
                plan.devices().isEmpty() && !where.isEmpty() ? chosen.names(where) : plan.devices();
        if (devices.isEmpty() && !where.isEmpty()) {
            throw Refusal.conflict("No device is meant by \"%s\".".formatted(where));
        }
        return devices;
    }

    @GetMapping("/{name}/missing-images")
    @Operation(summary = "The images that a plan needs and the shelf does not have")
    List<PlannedWork.MissingImage> missing(@PathVariable String name) {
        return work.missing(name);
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

    @PostMapping("/{name}/again")
    @Operation(
            summary =
                    "Work a plan out again from what is known now; what was said to findings that"
                            + " are the same stays, the approval does not")
    PlanView again(@PathVariable String name, Principal who) {
        return plans.again(name, who.getName());
    }

    @GetMapping("/{name}/compared-with/{other}")
    @Operation(summary = "What differs between two plans, as sentences")
    List<String> compare(@PathVariable String name, @PathVariable String other) {
        return plans.compare(name, other);
    }

    @GetMapping(path = "/{name}/file", produces = "application/yaml")
    @Operation(summary = "What was asked of the plan, as a plan file")
    String file(@PathVariable String name) {
        return plans.file(name);
    }

    @PostMapping(path = "/file", consumes = "application/yaml")
    @ResponseStatus(HttpStatus.CREATED)
    @Operation(
            summary =
                    "Work out what a plan file asks for; refused as a whole when anything is wrong"
                            + " in it")
    PlanView take(
            @RequestBody String text,
            @RequestParam(defaultValue = "plan.yaml") String file,
            Principal who) {
        return plans.take(file, text, who.getName());
    }

    @PostMapping("/{name}/copies")
    @ResponseStatus(HttpStatus.CREATED)
    @Operation(summary = "The same plan under another name, worked out from what is known now")
    PlanView copy(@PathVariable String name, @RequestBody NewName under, Principal who) {
        return plans.copy(name, under.name(), who.getName());
    }

    @GetMapping("/{name}/nights")
    @Operation(
            summary =
                    "The plan over its nights: what is done when and why not earlier, who is dark,"
                            + " how likely each night is to end in time, what fits nowhere")
    NightsView nights(@PathVariable String name) {
        return plans.nights(name);
    }

    @PostMapping("/{name}/nights")
    @Operation(
            summary =
                    "Pin, move, exclude units or order sites; the answer says what that costs. With"
                            + " keep=false nothing is changed")
    WishedView wish(
            @PathVariable String name,
            @RequestParam(defaultValue = "true") boolean keep,
            @RequestBody Wanted wanted,
            Principal who) {
        return plans.wish(name, wanted, keep, who.getName());
    }

    @GetMapping(path = "/{name}/calendar", produces = "text/calendar")
    @Operation(summary = "The plan's nights as an iCalendar file, of one site or of all")
    String calendar(@PathVariable String name, @RequestParam(defaultValue = "") String site) {
        return calendars.of(name, site);
    }

    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void drop(@PathVariable String name, Principal who) {
        plans.drop(name, who.getName());
    }
}
