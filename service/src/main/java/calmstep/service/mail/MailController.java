package calmstep.service.mail;

import io.swagger.v3.oas.annotations.Operation;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

@RestController
class MailController {
    private final SiteMail mail;

    MailController(SiteMail mail) {
        this.mail = mail;
    }

    @GetMapping("/api/runs/{name}/mail")
    @Operation(summary = "Who is told of a run by mail, site by site, and whether it was sent")
    List<SiteMail.MailView> of(@PathVariable String name) {
        return mail.of(name);
    }
}
