package calmstep.service.shelf;

import io.swagger.v3.oas.annotations.Operation;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.security.Principal;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api/shelf")
class ShelfController {
    private final Shelf shelf;
    private final Copies copies;

    ShelfController(Shelf shelf, Copies copies) {
        this.shelf = shelf;
        this.copies = copies;
    }

    @GetMapping("/copies")
    @Operation(
            summary =
                    "The copies to devices that are under way from this node, with rate and time"
                            + " left on the devices' clock")
    List<Copy.View> copies() {
        return copies.underWay();
    }

    @GetMapping("/images")
    List<Shelf.ImageView> images() {
        return shelf.all();
    }

    @GetMapping("/quarantine")
    List<Shelf.QuarantineView> quarantine() {
        return shelf.quarantined();
    }

    @PutMapping(path = "/images/{file}", consumes = "application/octet-stream")
    @Operation(
            summary =
                    "Take an image in, or a zip archive with images; size and SHA-256 must be as a"
                            + " catalogue publishes them. Answers with the images taken in")
    List<Shelf.ImageView> takeIn(
            @PathVariable String file, HttpServletRequest request, Principal who)
            throws IOException {
        return shelf.takeIn(file, request.getInputStream(), who.getName());
    }
}
