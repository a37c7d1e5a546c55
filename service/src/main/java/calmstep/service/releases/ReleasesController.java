package calmstep.service.releases;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.MovementRule;
import calmstep.core.catalogue.Release;
import calmstep.core.catalogue.Variant;
import calmstep.core.version.Version;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
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
            return new CatalogueView(
                    c.family(), c.title(), c.issued(), c.releases().size(), c.rules().size());
        }
    }

    /**
     * @param variant what it is for, in words; empty for any
     */
    record PublishedImageView(
            String fileName,
            long sizeBytes,
            String sha256,
            String purpose,
            String part,
            @Nullable String deltaFrom,
            @Nullable String archive,
            String variant,
            boolean onShelf) {}

    record ReleaseView(
            String family,
            String title,
            String component,
            String version,
            String line,
            String channel,
            LocalDate date,
            boolean recommended,
            boolean mayRest,
            List<String> notes,
            List<String> caveats,
            List<String> rules,
            List<PublishedImageView> images) {}

    @PostMapping(path = "/catalogues", consumes = "application/yaml")
    @ResponseStatus(HttpStatus.CREATED)
    @Operation(summary = "Import a catalogue file; refused as a whole when anything is wrong in it")
    CatalogueView take(
            @RequestBody String text,
            @RequestParam(defaultValue = "catalogue.yaml") String file,
            Principal who) {
        return CatalogueView.of(catalogues.take(file, text, who.getName()));
    }

    @GetMapping("/catalogues")
    List<CatalogueView> catalogues() {
        return catalogues.all().stream().map(CatalogueView::of).toList();
    }

    @GetMapping("/releases")
    @Operation(
            summary =
                    "All releases, newest first, with the rules that speak of them and whether"
                            + " their images are on the shelf")
    List<ReleaseView> releases() {
        Set<String> onShelf = shelf.fileNames();
        return catalogues.all().stream()
                .flatMap(
                        c ->
                                c.releases().stream()
                                        .sorted(systemFirst())
                                        .map(r -> view(c, r, onShelf)))
                .toList();
    }

    private static Comparator<Release> systemFirst() {
        return Comparator.comparing((Release r) -> !r.component().equals(Catalogue.SYSTEM))
                .thenComparing(Release::component)
                .thenComparing(Release::version, Comparator.reverseOrder());
    }

    private static ReleaseView view(Catalogue catalogue, Release release, Set<String> onShelf) {
        List<String> rules = rulesOn(catalogue, release);
        return new ReleaseView(
                catalogue.family(),
                catalogue.title(),
                release.component(),
                release.version().text(),
                release.line(),
                release.channel().toString(),
                release.date(),
                release.recommended(),
                release.mayRest(),
                release.notes(),
                release.caveats(),
                rules,
                release.images().stream().map(image -> view(image, onShelf)).toList());
    }

    private static List<String> rulesOn(Catalogue catalogue, Release release) {
        List<String> rules =
                catalogue.rules().stream()
                        .filter(
                                r ->
                                        r.component().equals(release.component())
                                                && r.to().contains(release.version()))
                        .map(MovementRule::sentence)
                        .toList();
        return rules;
    }

    private static PublishedImageView view(FirmwareImage image, Set<String> onShelf) {
        return new PublishedImageView(
                image.fileName(),
                image.sizeBytes(),
                image.sha256(),
                image.purpose().toString(),
                image.part(),
                image.deltaFrom().map(Version::text).orElse(null),
                image.archive().map(FirmwareImage.Archive::fileName).orElse(null),
                words(image.variant()),
                onShelf.contains(image.fileName()));
    }

    private static String words(Variant variant) {
        return Stream.of(
                        words("model", variant.models()),
                        words("revision", variant.revisions()),
                        words("region", variant.regions()),
                        words("brand", variant.brands()),
                        words("feature", variant.features()))
                .filter(w -> !w.isEmpty())
                .collect(Collectors.joining(", "));
    }

    private static String words(String what, List<String> which) {
        return which.isEmpty() ? "" : what + " " + String.join(" or ", which);
    }
}
