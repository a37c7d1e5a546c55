package calmstep.service.fleet;

import calmstep.core.device.Trouble;
import calmstep.dialect.Dialect;
import calmstep.dialect.DialectCheck;
import calmstep.dialect.DialectText;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import calmstep.service.problems.Refusal;
import io.swagger.v3.oas.annotations.Operation;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api/dialects")
class DialectController {
    private final DeviceDoors ways;

    DialectController(DeviceDoors ways) {
        this.ways = ways;
    }

    /**
     * @param file name of the dialect's file, for messages
     * @param text the dialect
     * @param session a recorded session; typed lines begin with ">> "
     * @param device a device that is asked live
     */
    record Tried(String file, String text, @Nullable String session, @Nullable String device) {}

    /**
     * @param trouble why a live session ended before its time
     */
    record CheckView(
            String family,
            String title,
            boolean good,
            List<DialectCheck.Command> commands,
            List<String> unknown,
            @Nullable Trouble trouble) {}

    @PostMapping("/check")
    @Operation(
            summary =
                    "Try a dialect's text on a recorded session or on a live device: what each"
                        + " pattern takes from each answer. Nothing is changed or kept; a text that"
                        + " is wrong is refused with line and column")
    CheckView check(@RequestBody Tried tried) {
        if (tried.session() != null && tried.device() != null) {
            throw Refusal.wrong("Expected a recorded session or a device, saw both.");
        }
        Dialect dialect = DialectText.read(tried.file(), tried.text());
        DialectCheck.Result result = resultOf(tried, dialect);
        return view(dialect, result);
    }

    private static CheckView view(Dialect dialect, DialectCheck.Result result) {
        return new CheckView(
                dialect.family(),
                dialect.title(),
                result.isGood(),
                result.commands(),
                result.unknown(),
                result.trouble().orElse(null));
    }

    private DialectCheck.Result resultOf(Tried tried, Dialect dialect) {
        DialectCheck.Result result =
                tried.device() == null
                        ? DialectCheck.of(
                                dialect,
                                DialectCheck.session(
                                        tried.session() == null ? "" : tried.session()))
                        : live(dialect, tried.device());
        return result;
    }

    private DialectCheck.Result live(Dialect dialect, String device) {
        try (Door door = ways.door(device, dialect, Talk.NONE)) {
            return DialectCheck.of(door);
        }
    }
}
