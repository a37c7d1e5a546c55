package calmstep.service.checks;

import calmstep.core.fleet.Reading.Fact;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.util.List;
import java.util.Map;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

@RestController
class ChecksController {
    private final OwnChecks checks;

    ChecksController(OwnChecks checks) {
        this.checks = checks;
    }

    /**
     * @param checks a line each, as {@code docs/alarms.md} has them
     */
    record Lines(List<String> checks) {}

    @GetMapping("/api/checks")
    @Operation(summary = "Checks of one's own, by device")
    Map<String, List<String>> all() {
        return checks.all();
    }

    @GetMapping("/api/devices/{name}/checks")
    Lines of(@PathVariable String name) {
        return new Lines(checks.of(name));
    }

    @PutMapping("/api/devices/{name}/checks")
    @Operation(summary = "What is tried before and after a device is changed; these, and no others")
    Lines set(@PathVariable String name, @RequestBody Lines lines, Principal who) {
        return new Lines(checks.set(name, lines.checks(), who.getName()));
    }

    @PostMapping("/api/devices/{name}/checks/trial")
    @Operation(
            summary =
                    "Try the checks of a device now; what is counted is counted in its newest"
                            + " reading")
    List<Fact> tried(@PathVariable String name) {
        return checks.tried(name);
    }
}
