package calmstep.service.windows;

import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api/windows")
class WindowsController {
    private final Windows windows;

    WindowsController(Windows windows) {
        this.windows = windows;
    }

    @PutMapping(consumes = "application/yaml")
    @Operation(
            summary =
                    "Import a windows file, which holds from now on; refused as a whole when"
                            + " anything is wrong in it")
    Windows.FileView take(
            @RequestBody String text,
            @RequestParam(defaultValue = "windows.yaml") String file,
            Principal who) {
        windows.take(file, text, who.getName());
        return windows.file();
    }

    @GetMapping
    @Operation(summary = "The windows file that holds")
    Windows.FileView file() {
        return windows.file();
    }

    @GetMapping("/open")
    @Operation(
            summary =
                    "When sites may be disturbed in the next days, freezes taken out; no site named"
                            + " means all")
    List<Windows.OpenView> open(
            @RequestParam(required = false) @Nullable Set<String> site,
            @RequestParam(defaultValue = "7") int days) {
        return windows.open(site == null ? Set.of() : site, days);
    }
}
