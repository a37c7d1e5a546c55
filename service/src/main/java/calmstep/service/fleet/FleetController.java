package calmstep.service.fleet;

import calmstep.core.fleet.Reading;
import calmstep.service.problems.Refusal;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.security.access.prepost.PreAuthorize;
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
@RequestMapping("/api")
class FleetController {
    private final Fleet fleet;
    private final ReadDevices readDevices;
    private final Jobs jobs;

    FleetController(Fleet fleet, ReadDevices readDevices, Jobs jobs) {
        this.fleet = fleet;
        this.readDevices = readDevices;
        this.jobs = jobs;
    }

    record Login(String user, String password) {}

    record Selection(List<String> devices) {}

    record JobView(long id, String kind, String state, int total, int done, int failed) {}

    @PostMapping(path = "/inventory", consumes = {"application/yaml", "application/json"})
    @Operation(summary = "Import an inventory file, as a whole or not at all")
    Fleet.Imported take(@RequestBody String text, @RequestParam(defaultValue = "inventory.yaml") String file, @RequestParam(defaultValue = "false") boolean preview,
            Principal who) {
        return fleet.take(file, text, preview, who.getName());
    }

    @PutMapping("/logins/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Operation(summary = "Set the user and password that open devices; they never come back out")
    void setLogin(@PathVariable String name, @RequestBody Login login, Principal who) {
        fleet.setLogin(name, login.user(), login.password(), who.getName());
    }

    @GetMapping("/devices/{name}/readings")
    List<Reading> readings(@PathVariable String name) {
        return fleet.readings(name);
    }

    @DeleteMapping("/devices/{name}/host-key")
    @PreAuthorize("hasRole('approver')")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Operation(summary = "Forget the host key of a device that was replaced")
    void forgetHostKey(@PathVariable String name, Principal who) {
        fleet.forgetHostKey(name, who.getName());
    }

    @PostMapping("/readings")
    @ResponseStatus(HttpStatus.ACCEPTED)
    @Operation(summary = "Read devices; none named means all. Answers with a job")
    JobView read(@RequestBody Selection selection, Principal who) {
        return job(readDevices.start(selection.devices(), who.getName()));
    }

    @GetMapping("/jobs/{id}")
    JobView job(@PathVariable long id) {
        return jobs.findById(id).map(j -> new JobView(id, j.kind, j.state, j.total, j.done, j.failed)).orElseThrow(() -> Refusal.notFound("job", String.valueOf(id)));
    }

    @DeleteMapping("/jobs/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void cancel(@PathVariable long id) {
        readDevices.cancel(id);
    }
}
