package calmstep.service.notices;

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
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api/notices")
class NoticesController {
    private final Notices notices;

    NoticesController(Notices notices) {
        this.notices = notices;
    }

    @GetMapping
    @Operation(summary = "Other systems that are told what happens, and how far each is")
    List<Notices.TargetView> all() {
        return notices.all();
    }

    @PutMapping("/{name}")
    @PreAuthorize("hasRole('admin')")
    @Operation(
            summary =
                    "Have another system told from now on, by webhook or syslog; a secret never"
                            + " comes back out")
    Notices.TargetView set(
            @PathVariable String name, @RequestBody Notices.TargetToSet target, Principal who) {
        return notices.set(name, target, who.getName());
    }

    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @PreAuthorize("hasRole('admin')")
    void forget(@PathVariable String name, Principal who) {
        notices.forget(name, who.getName());
    }

    @PostMapping("/{name}/trial")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @PreAuthorize("hasRole('admin')")
    @Operation(summary = "Bring it one notice that means nothing, now")
    void tryOut(@PathVariable String name, Principal who) {
        notices.tryOut(name, who.getName());
    }
}
