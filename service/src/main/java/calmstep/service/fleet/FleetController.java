package calmstep.service.fleet;

import calmstep.core.fleet.Inventory;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.InventoryTree;
import calmstep.core.fleet.Reading;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
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
    private final Chosen chosen;
    private final Json json;

    FleetController(Fleet fleet, ReadDevices readDevices, Jobs jobs, Chosen chosen, Json json) {
        this.fleet = fleet;
        this.readDevices = readDevices;
        this.jobs = jobs;
        this.chosen = chosen;
        this.json = json;
    }

    record Login(String user, String password) {}

    /** @param where devices that a selection means, used when none is named; both empty means all */
    record ToRead(List<String> devices, @Nullable String where) {}

    record JobView(long id, String kind, String state, int total, int done, int failed) {}

    @PostMapping(path = "/inventory", consumes = {"application/yaml", "application/json", "text/csv"})
    @Operation(summary = "Import an inventory file (YAML, JSON, or CSV), as a whole or not at all")
    Fleet.Imported take(@RequestBody String text, @RequestHeader("Content-Type") String type, @RequestParam(defaultValue = "inventory.yaml") String file,
            @RequestParam(defaultValue = "false") boolean preview, Principal who) {
        return fleet.take(file, text, type.startsWith("text/csv") ? InventoryText.Format.CSV : InventoryText.Format.YAML, preview, who.getName());
    }

    @GetMapping(path = "/inventory", produces = {"application/yaml", "text/csv", "application/json"})
    @Operation(summary = "Export the inventory of a selection; as = yaml, csv or json")
    ResponseEntity<String> inventory(@RequestParam(defaultValue = "yaml") String as, @RequestParam(defaultValue = "") String where) {
        Inventory inventory = fleet.inventory(chosen.names(where));
        return switch (as) {
            case "yaml" -> ResponseEntity.ok().contentType(MediaType.parseMediaType("application/yaml")).body(InventoryText.write(inventory, InventoryText.Format.YAML));
            case "csv" -> ResponseEntity.ok().contentType(MediaType.parseMediaType("text/csv;charset=UTF-8")).body(InventoryText.write(inventory, InventoryText.Format.CSV));
            case "json" -> ResponseEntity.ok().contentType(MediaType.APPLICATION_JSON).body(json.write(InventoryTree.of(inventory)));
            default -> throw Refusal.wrong("Expected as=yaml, as=csv or as=json, saw \"%s\".".formatted(as));
        };
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
    @Operation(summary = "Read the devices that are named, or that a selection means; neither means all. Answers with a job")
    JobView read(@RequestBody ToRead wanted, Principal who) {
        List<String> names = wanted.devices().isEmpty() ? chosen.names(wanted.where() == null ? "" : wanted.where()) : wanted.devices();
        if (names.isEmpty()) {
            throw Refusal.conflict("No device is meant by \"%s\".".formatted(wanted.where()));
        }
        return job(readDevices.start(names, who.getName()));
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
