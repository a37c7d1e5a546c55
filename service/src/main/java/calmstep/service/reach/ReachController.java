package calmstep.service.reach;

import io.swagger.v3.oas.annotations.Operation;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api/reach")
class ReachController {
    private final Reaches reaches;

    ReachController(Reaches reaches) {
        this.reaches = reaches;
    }

    @GetMapping
    @Operation(
            summary =
                    "The network as the inventory joins it: how far each device is from the roots,"
                            + " and what it cuts off while it alone is down")
    Reaches.NetworkView network() {
        return reaches.network();
    }

    @GetMapping("/dark")
    @Operation(
            summary =
                    "What loses every way to a root while these devices are down, in devices and in"
                            + " users' words; and in which order they may restart")
    Reaches.DarkView dark(@RequestParam List<String> down) {
        return reaches.dark(down);
    }
}
