package calmstep.service.fleet;

import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.springframework.http.HttpStatus;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api")
class FleetByHandController {
    private final FleetByHand byHand;

    FleetByHandController(FleetByHand byHand) {
        this.byHand = byHand;
    }

    record Fields(Map<String, Object> set) {}

    record NewName(String name) {}

    record Why(String why) {}

    @PostMapping("/inventory/undo")
    @Operation(
            summary =
                    "Take the newest change of the inventory back, field by field; devices that it"
                            + " added are retired")
    Fleet.Imported undo(Principal who) {
        return byHand.undo(who.getName());
    }

    @PutMapping("/devices/{name}/fields")
    @Operation(
            summary =
                    "Set fields of a device, called as the columns of a table; an empty value"
                            + " empties, what is not named stays")
    Fleet.Imported set(@PathVariable String name, @RequestBody Fields fields, Principal who) {
        return byHand.set(
                name,
                fields.set().entrySet().stream()
                        .collect(Collectors.toMap(Map.Entry::getKey, one -> cell(one.getValue()))),
                who.getName());
    }

    private static String cell(Object value) {
        return value instanceof List<?> list
                ? list.stream().map(String::valueOf).collect(Collectors.joining("; "))
                : String.valueOf(value);
    }

    @PutMapping("/devices/{name}/name")
    @PreAuthorize("hasRole('approver')")
    @Operation(
            summary =
                    "Give a device another name; its history stays, and whoever is joined with it"
                            + " knows it by the new one")
    void rename(@PathVariable String name, @RequestBody NewName to, Principal who) {
        byHand.rename(name, to.name(), who.getName());
    }

    @PostMapping("/devices/{name}/retirement")
    @PreAuthorize("hasRole('approver')")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Operation(
            summary =
                    "Take a device out of the fleet, with a reason; its history stays, and an"
                            + " import of its name brings it back")
    void retire(@PathVariable String name, @RequestBody Why why, Principal who) {
        byHand.retire(name, why.why(), who.getName());
    }

    @PutMapping("/sites/{name}/fields")
    @Operation(summary = "Set title, zone and contacts of a site, or make a new one")
    Fleet.Imported setSite(@PathVariable String name, @RequestBody Fields fields, Principal who) {
        return byHand.setSite(name, fields.set(), who.getName());
    }

    @PutMapping("/sites/{name}/name")
    @PreAuthorize("hasRole('approver')")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Operation(
            summary =
                    "Give a site another name; windows that name it by a former one still hold for"
                            + " it")
    void renameSite(@PathVariable String name, @RequestBody NewName to, Principal who) {
        byHand.renameSite(name, to.name(), who.getName());
    }

    @DeleteMapping("/sites/{name}")
    @PreAuthorize("hasRole('approver')")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Operation(summary = "Take a site away that no device stands at")
    void retireSite(@PathVariable String name, Principal who) {
        byHand.retireSite(name, who.getName());
    }
}
