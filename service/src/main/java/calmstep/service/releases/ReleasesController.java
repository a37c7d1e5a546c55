package calmstep.service.releases;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.MovementRule;
import calmstep.core.catalogue.Release;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api")
class ReleasesController {
    private final Catalogues catalogues;
    private final calmstep.service.shelf.Shelf shelf;

    ReleasesController(Catalogues catalogues, calmstep.service.shelf.Shelf shelf) {
        this.catalogues = catalogues;
        this.shelf = shelf;
    }

    record CatalogueView(String family, String title, LocalDate issued, int releases, int rules) {
        static CatalogueView of(Catalogue c) {
            return new CatalogueView(c.family(), c.title(), c.issued(), c.releases().size(), c.rules().size());
        }
    }

    record PublishedImageView(String fileName, long sizeBytes, String sha256, String purpose, List<String> revisions, boolean onShelf) {}

    record ReleaseView(String family, String title, String component, String version, String channel, LocalDate date, boolean recommended,
            boolean mayRest, List<String> notes, List<String> caveats, List<String> rules, List<PublishedImageView> images) {}

    @PostMapping(path = "/catalogues", consumes = "application/yaml")
    @ResponseStatus(HttpStatus.CREATED)
    @Operation(summary = "Import a catalogue file; refused as a whole when anything is wrong in it")
    CatalogueView take(@RequestBody String text, @RequestParam(defaultValue = "catalogue.yaml") String file, Principal who) {
        return CatalogueView.of(catalogues.take(file, text, who.getName()));
    }

    @GetMapping("/catalogues")
    List<CatalogueView> catalogues() {
        return catalogues.all().stream().map(CatalogueView::of).toList();
    }

    @GetMapping("/releases")
    @Operation(summary = "All releases, newest first, with the rules that speak of them and whether their images are on the shelf")
    List<ReleaseView> releases() {
        return catalogues.all().stream()
                .flatMap(c -> c.releases().stream().sorted(Comparator.comparing(Release::version).reversed()).map(r -> view(c, r)))
                .toList();
    }

    private ReleaseView view(Catalogue catalogue, Release release) {
        List<String> rules = catalogue.rules().stream()
                .filter(r -> r.component().equals(release.component()) && r.to().contains(release.version()))
                .map(MovementRule::sentence)
                .toList();
        return new ReleaseView(catalogue.family(), catalogue.title(), release.component(), release.version().text(), release.channel().toString(),
                release.date(), release.recommended(), release.mayRest(), release.notes(), release.caveats(), rules,
                release.images().stream().map(this::view).toList());
    }

    private PublishedImageView view(FirmwareImage image) {
        return new PublishedImageView(image.fileName(), image.sizeBytes(), image.sha256(), image.purpose().toString(), image.variant().revisions(), shelf.has(image.fileName()));
    }
}
