package calmstep.service.backups;

import io.swagger.v3.oas.annotations.Operation;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

@RestController
class BackupController {
    private final BackupStore store;

    BackupController(BackupStore store) {
        this.store = store;
    }

    @GetMapping("/api/devices/{name}/backups")
    List<BackupStore.BackupView> backups(@PathVariable String name) {
        return store.ofDevice(name);
    }

    @GetMapping(path = "/api/devices/{name}/backups/{id}/text", produces = "text/plain")
    @Operation(summary = "The configuration as it was kept, with its secrets masked")
    String text(@PathVariable String name, @PathVariable long id) {
        return store.masked(name, id);
    }
}
