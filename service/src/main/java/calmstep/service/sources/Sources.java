package calmstep.service.sources;

import calmstep.core.catalogue.Catalogue;
import calmstep.service.events.Events;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import calmstep.service.secrets.SecretBox;
import calmstep.service.shelf.Shelf;
import java.net.URI;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionTemplate;

/** The sources that are known, and what they offer. */
@Component
class Sources {
    private final SourceRows rows;
    private final Offers offers;
    private final Catalogues catalogues;
    private final Shelf shelf;
    private final SecretBox secrets;
    private final Events events;
    private final TransactionTemplate transactions;
    private final Clock clock;

    Sources(
            SourceRows rows,
            Offers offers,
            Catalogues catalogues,
            Shelf shelf,
            SecretBox secrets,
            Events events,
            TransactionTemplate transactions,
            Clock clock) {
        this.rows = rows;
        this.offers = offers;
        this.catalogues = catalogues;
        this.shelf = shelf;
        this.secrets = secrets;
        this.events = events;
        this.transactions = transactions;
        this.clock = clock;
    }

    /** A source, without its secrets. */
    record SourceView(
            String name,
            String url,
            String user,
            boolean ownCertificate,
            String proxy,
            @Nullable Instant askedAt) {}

    /** What a person says of a source; a password that is left out stays as it was. */
    record SourceToSet(
            String url,
            String user,
            @Nullable String password,
            @Nullable String certificate,
            @Nullable String proxy,
            @Nullable String proxyUser,
            @Nullable String proxyPassword) {}

    /**
     * A file that a source published.
     *
     * @param standing {@code here}, {@code not-here}, or {@code no-catalogue} for an image that no
     *     catalogue here publishes
     */
    record OfferView(
            String source,
            String kind,
            String family,
            String fileName,
            long sizeBytes,
            String standing,
            Instant seenAt) {}

    @Transactional
    SourceView set(String name, SourceToSet said, String who) {
        check(name, said);
        SourceRow row = rows.findById(name).orElseGet(SourceRow::new);
        boolean elsewhere = !row.url.equals(said.url());
        row.name = name;
        row.url = said.url();
        row.userName = said.user();
        row.certificate = text(said.certificate());
        row.proxy = text(said.proxy());
        row.proxyUser = text(said.proxyUser());
        if (said.password() != null) {
            row.secret = secrets.seal("source/" + name, said.password());
        }
        if (said.proxyPassword() != null) {
            row.proxySecret = secrets.seal("source-proxy/" + name, said.proxyPassword());
        }
        if (elsewhere) {
            row.newest = 0;
            offers.deleteBySource(name);
        }
        row.changedAt = clock.instant();
        row.changedBy = who;
        rows.save(row);
        events.append(
                Optional.empty(),
                name,
                "shelf",
                who,
                "The source %s is set: %s.".formatted(name, row.url));
        return view(row);
    }

    private static String text(@Nullable String given) {
        return given == null ? "" : given;
    }

    private static void check(String name, SourceToSet said) {
        List<String> wrong = new ArrayList<>();
        if (!name.matches("[a-z0-9][a-z0-9.-]*")) {
            wrong.add(
                    "Expected a name of small letters, digits, dots and dashes, saw \"%s\"."
                            .formatted(name));
        }
        if (!said.url().matches("https://[^/?#\\s]+/?")) {
            wrong.add(
                    "Expected an address such as https://releases.example, without a path; saw \"%s\"."
                            .formatted(said.url()));
        }
        if (!text(said.proxy()).isEmpty() && !text(said.proxy()).matches("[^:/\\s]+:\\d{1,5}")) {
            wrong.add("Expected a proxy as host:port, saw \"%s\".".formatted(said.proxy()));
        }
        if (!text(said.certificate()).isEmpty()) {
            try {
                MakerFeed.trusting(text(said.certificate()));
            } catch (IllegalArgumentException refused) {
                wrong.add(String.valueOf(refused.getMessage()));
            }
        }
        if (!wrong.isEmpty()) {
            throw Refusal.unusable("The source %s was not set.".formatted(name), wrong);
        }
    }

    private static SourceView view(SourceRow row) {
        return new SourceView(
                row.name,
                row.url,
                row.userName,
                !row.certificate.isEmpty(),
                row.proxy,
                row.askedAt);
    }

    @Transactional(readOnly = true)
    List<SourceView> all() {
        return rows.findAllByOrderByName().stream().map(Sources::view).toList();
    }

    /** The source and what it offered are gone; what was fetched stays. */
    @Transactional
    void forget(String name, String who) {
        rows.delete(require(name));
        offers.deleteBySource(name);
        events.append(
                Optional.empty(),
                name,
                "shelf",
                who,
                "The source %s is forgotten.".formatted(name));
    }

    private SourceRow require(String name) {
        return rows.findById(name).orElseThrow(() -> Refusal.notFound("source", name));
    }

    /** The line to a source; whoever opens it closes it. */
    MakerFeed feed(String name) {
        SourceRow row = require(name);
        return new MakerFeed(
                new MakerFeed.Reached(
                        name,
                        URI.create(row.url),
                        row.userName,
                        open("source/", name, row.secret),
                        row.certificate,
                        row.proxy,
                        row.proxyUser,
                        open("source-proxy/", name, row.proxySecret)));
    }

    private String open(String kind, String name, byte[] sealed) {
        return sealed.length == 0 ? "" : secrets.open(kind + name, sealed);
    }

    /**
     * Asks a source; gives what it published since it was asked last. The talk with it is outside
     * of any transaction.
     */
    List<OfferView> ask(String name, String who) {
        int newest = require(name).newest;
        List<MakerFeed.Published> published;
        try (MakerFeed feed = feed(name)) {
            published = feed.publishedAfter(newest);
        }
        List<Offer> fresh =
                Optional.ofNullable(transactions.execute(_ -> keep(name, published, who)))
                        .orElseThrow();
        return views(fresh);
    }

    private List<Offer> keep(String name, List<MakerFeed.Published> published, String who) {
        SourceRow row = require(name);
        List<Offer> fresh =
                published.stream()
                        .filter(p -> p.number() > row.newest)
                        .map(p -> offer(name, p))
                        .toList();
        row.newest =
                published.stream()
                        .mapToInt(MakerFeed.Published::number)
                        .reduce(row.newest, Math::max);
        row.askedAt = clock.instant();
        offers.saveAll(fresh);
        events.append(
                Optional.empty(),
                name,
                "shelf",
                who,
                "The source %s was asked: %s new since last time.".formatted(name, fresh.size()));
        return fresh;
    }

    private Offer offer(String source, MakerFeed.Published published) {
        Offer offer = new Offer();
        offer.source = source;
        offer.number = published.number();
        offer.kind = published.kind();
        offer.family = published.family();
        offer.fileName = published.file();
        offer.sizeBytes = published.sizeBytes();
        offer.sha256 = published.sha256();
        offer.seenAt = clock.instant();
        return offer;
    }

    /**
     * Everything that is offered, newest first; of a name that was published again, the newest
     * only.
     */
    @Transactional(readOnly = true)
    List<OfferView> offered() {
        Set<String> told = new HashSet<>();
        return views(
                offers.findAllByOrderByIdDesc().stream()
                        .filter(o -> told.add(o.source + "/" + o.fileName))
                        .toList());
    }

    private List<OfferView> views(List<Offer> some) {
        Set<String> here = shelf.fileNames();
        Set<String> known = catalogues.digests();
        List<Catalogue> all = catalogues.all();
        return some.stream()
                .map(
                        o ->
                                new OfferView(
                                        o.source,
                                        o.kind,
                                        family(o, all),
                                        o.fileName,
                                        o.sizeBytes,
                                        standing(o, here, known, all),
                                        o.seenAt))
                .toList();
    }

    private static String standing(
            Offer offer, Set<String> here, Set<String> known, List<Catalogue> all) {
        if (offer.kind.equals(Offer.CATALOGUE)) {
            return known.contains(offer.sha256) ? "here" : "not-here";
        }
        List<String> images = all.stream().flatMap(c -> images(c, offer.fileName)).toList();
        return images.isEmpty() ? "no-catalogue" : here.containsAll(images) ? "here" : "not-here";
    }

    /**
     * The images that a catalogue publishes under this name: the file itself, or what lies in the
     * archive.
     */
    private static Stream<String> images(Catalogue catalogue, String file) {
        return Stream.concat(catalogue.findImage(file).stream(), catalogue.imagesIn(file).stream())
                .map(p -> p.image().fileName());
    }

    /** What the catalogues say, where the source leaves it open. */
    private static String family(Offer offer, List<Catalogue> all) {
        return offer.family.isEmpty()
                ? all.stream()
                        .filter(c -> images(c, offer.fileName).findAny().isPresent())
                        .map(Catalogue::family)
                        .findFirst()
                        .orElse("")
                : offer.family;
    }
}
