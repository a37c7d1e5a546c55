package calmstep.service.releases;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.step.Digests;
import calmstep.core.version.VersionScheme;
import calmstep.service.events.Events;
import java.time.Clock;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The catalogues that were imported. */
@Component
public class Catalogues {
    private final CatalogueRows rows;
    private final Dialects dialects;
    private final Events events;
    private final Clock clock;
    private final Map<Long, Catalogue> parsed = new ConcurrentHashMap<>();

    Catalogues(CatalogueRows rows, Dialects dialects, Events events, Clock clock) {
        this.rows = rows;
        this.dialects = dialects;
        this.events = events;
        this.clock = clock;
    }

    /**
     * @throws calmstep.core.text.RejectedText with everything that is wrong in the text
     */
    @Transactional
    public Catalogue take(String fileName, String text, String who) {
        Catalogue catalogue = CatalogueText.read(fileName, text);
        keep(catalogue, fileName, text, who);
        events.append(
                Optional.empty(),
                catalogue.family(),
                "releases",
                who,
                "Catalogue of %s imported: %s releases, %s rules, issued %s."
                        .formatted(
                                catalogue.title(),
                                catalogue.releases().size(),
                                catalogue.rules().size(),
                                catalogue.issued()));
        return catalogue;
    }

    private void keep(Catalogue catalogue, String fileName, String text, String who) {
        CatalogueRow row = new CatalogueRow();
        row.family = catalogue.family();
        row.fileName = fileName;
        row.text = text;
        row.sha256 = Digests.sha256(text);
        row.issued = catalogue.issued();
        row.importedAt = clock.instant();
        row.importedBy = who;
        rows.save(row);
    }

    /** The newest catalogue of a family. */
    @Transactional(readOnly = true)
    public Optional<Catalogue> find(String family) {
        return rows.findFirstByFamilyOrderByIdDesc(family).map(this::parse);
    }

    @Transactional(readOnly = true)
    public List<Catalogue> all() {
        return rows.newestOfEach().stream()
                .flatMap(id -> rows.findById(id).stream())
                .map(this::parse)
                .toList();
    }

    private Catalogue parse(CatalogueRow row) {
        return parsed.computeIfAbsent(
                row.id == null ? 0L : row.id, _ -> CatalogueText.read(row.fileName, row.text));
    }

    /**
     * The families that are known, by catalogue or by dialect, with the schemes of their
     * components' versions as far as they are known.
     */
    @Transactional(readOnly = true)
    public Map<String, Map<String, VersionScheme>> families() {
        Map<String, Map<String, VersionScheme>> families = new TreeMap<>();
        dialects.families().forEach(family -> families.put(family, Map.of()));
        all().forEach(catalogue -> families.put(catalogue.family(), catalogue.schemes()));
        return families;
    }

    /** Which catalogue publishes a file of this exact name. */
    public Optional<Published> findImage(String fileName) {
        return all().stream()
                .flatMap(c -> c.findImage(fileName).stream().map(p -> new Published(c, p)))
                .findFirst();
    }

    /** The images that a catalogue publishes in an archive of this exact name. */
    public List<Published> imagesIn(String archiveName) {
        return all().stream()
                .flatMap(c -> c.imagesIn(archiveName).stream().map(p -> new Published(c, p)))
                .toList();
    }

    /** An image with the catalogue that publishes it. */
    public record Published(Catalogue catalogue, Catalogue.PublishedImage published) {}

    /** A catalogue as it was imported. */
    public record Text(String family, String text) {}

    /** The newest catalogues of the families that these images are for. */
    @Transactional(readOnly = true)
    public List<Text> texts(Collection<String> images) {
        Set<String> families =
                images.stream()
                        .flatMap(image -> findImage(image).stream())
                        .map(p -> p.catalogue().family())
                        .collect(Collectors.toCollection(TreeSet::new));
        return families.stream()
                .flatMap(family -> rows.findFirstByFamilyOrderByIdDesc(family).stream())
                .map(row -> new Text(row.family, row.text))
                .toList();
    }

    /** SHA-256 of the newest catalogue of each family. */
    @Transactional(readOnly = true)
    public Set<String> digests() {
        return rows.newestOfEach().stream()
                .flatMap(id -> rows.findById(id).stream())
                .map(row -> row.sha256)
                .collect(Collectors.toSet());
    }
}
