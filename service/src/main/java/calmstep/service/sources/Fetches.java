package calmstep.service.sources;

import calmstep.service.Settings;
import calmstep.service.events.Events;
import calmstep.service.jobs.Jobs;
import calmstep.service.plans.PlannedWork;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import calmstep.service.shelf.Shelf;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.SequencedSet;
import java.util.concurrent.atomic.AtomicBoolean;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Fetches offered files, one after the other: a maker's line is one line. What came of a file stays
 * when the line or we break, and is gone on from.
 */
@Component
class Fetches {
    private static final Logger LOG = LoggerFactory.getLogger(Fetches.class);
    private static final int STRETCHES = 6;
    private static final Duration FIRST_PAUSE = Duration.ofMillis(500);
    private static final long TELLS_EVERY_BYTES = 1L << 20;

    private final Sources sources;
    private final Offers offers;
    private final PlannedWork plans;
    private final Catalogues catalogues;
    private final Shelf shelf;
    private final Jobs jobs;
    private final Events events;
    private final TransactionTemplate transactions;
    private final Path folder;

    Fetches(
            Sources sources,
            Offers offers,
            PlannedWork plans,
            Catalogues catalogues,
            Shelf shelf,
            Jobs jobs,
            Events events,
            TransactionTemplate transactions,
            Settings settings)
            throws IOException {
        this.sources = sources;
        this.offers = offers;
        this.plans = plans;
        this.catalogues = catalogues;
        this.shelf = shelf;
        this.jobs = jobs;
        this.events = events;
        this.transactions = transactions;
        folder = Files.createDirectories(settings.data().resolve("fetching"));
    }

    /**
     * @param files names of offered files; with {@code plan}, what it lacks besides
     * @param plan empty for none
     * @return the job's identifier
     * @throws Refusal when nothing is to be fetched, or something that is wanted is offered by no
     *     source
     */
    long start(List<String> files, String plan, String who) {
        List<String> nobody = new ArrayList<>();
        SequencedSet<Offer> wanted = new LinkedHashSet<>();
        SequencedSet<String> names = new LinkedHashSet<>();
        files.forEach(
                file ->
                        find(file, "", nobody)
                                .filter(o -> names.add(o.fileName))
                                .ifPresent(wanted::add));
        if (!plan.isEmpty()) {
            plans.missing(plan)
                    .forEach(
                            m ->
                                    find(
                                                    m.fileName(),
                                                    Optional.ofNullable(m.archive()).orElse(""),
                                                    nobody)
                                            .filter(o -> names.add(o.fileName))
                                            .ifPresent(wanted::add));
        }
        if (!nobody.isEmpty()) {
            throw Refusal.unusable(
                    "No source offers all of it; nothing was fetched. Ask the sources again"
                            + " (calmstep shelf news), or bring the files by hand.",
                    nobody.stream().map("%s: no source offers it"::formatted).toList());
        }
        if (wanted.isEmpty()) {
            throw Refusal.conflict(
                    plan.isEmpty()
                            ? "Name a file, or a plan."
                            : "Nothing is missing for the plan %s.".formatted(plan));
        }
        long job = jobs.start("fetch", wanted.size(), who);
        Thread.ofVirtual()
                .name("fetch-" + job)
                .start(() -> fetchAll(job, List.copyOf(wanted), who));
        return job;
    }

    private Optional<Offer> find(String file, String archive, List<String> nobody) {
        Optional<Offer> found =
                offers.findFirstByFileNameOrderByIdDesc(file)
                        .or(
                                () ->
                                        archive.isEmpty()
                                                ? Optional.empty()
                                                : offers.findFirstByFileNameOrderByIdDesc(archive));
        if (found.isEmpty()) {
            nobody.add(file);
        }
        return found;
    }

    private void fetchAll(long job, List<Offer> wanted, String who) {
        try {
            for (Offer offer : wanted) {
                if (jobs.isCancelled(job)) {
                    return;
                }
                jobs.count(job, fetch(job, offer, who));
            }
        } finally {
            jobs.finish(job);
        }
    }

    private boolean fetch(long job, Offer offer, String who) {
        Path part = folder.resolve("%s.part".formatted(offer.sha256));
        try {
            if (!download(job, offer, part)) {
                return false;
            }
            takeOver(offer, part, who);
            Files.deleteIfExists(part);
            return true;
        } catch (IOException broken) {
            failed(
                    job,
                    offer,
                    "%s could not be written: %s. Make room, then fetch again; what came is kept."
                            .formatted(offer.fileName, broken.getMessage()));
        } catch (Refusal refused) {
            discard(part);
            failed(job, offer, String.valueOf(refused.getMessage()));
        } catch (calmstep.core.text.RejectedText rejected) {
            discard(part);
            failed(
                    job,
                    offer,
                    "The catalogue %s was refused: %s"
                            .formatted(offer.fileName, rejected.complaints().getFirst()));
        } catch (RuntimeException ours) {
            LOG.error("Fetching {} failed for a reason of our own", offer.fileName, ours);
            failed(job, offer, "A fault of the service itself; its log has more.");
        }
        return false;
    }

    private void failed(long job, Offer offer, String why) {
        jobs.trouble(
                job, "%s was not fetched from %s. %s".formatted(offer.fileName, offer.source, why));
        transactions.executeWithoutResult(
                _ ->
                        events.append(
                                Optional.empty(),
                                offer.fileName,
                                "shelf",
                                Events.SERVICE,
                                "%s was not fetched from %s. %s"
                                        .formatted(offer.fileName, offer.source, why)));
    }

    private static void discard(Path part) {
        try {
            Files.deleteIfExists(part);
        } catch (IOException held) {
            LOG.warn("{} could not be removed", part, held);
        }
    }

    /**
     * Stretch after stretch, with growing pauses: a stretch that brought something does not count
     * as a failure.
     */
    private boolean download(long job, Offer offer, Path part) throws IOException {
        MakerFeed.Published file =
                new MakerFeed.Published(
                        offer.number,
                        offer.kind,
                        offer.family,
                        offer.fileName,
                        offer.sizeBytes,
                        offer.sha256);
        AtomicBoolean stopped = new AtomicBoolean();
        Duration pause = FIRST_PAUSE;
        String why = "";
        long told = 0;
        try (MakerFeed feed = sources.feed(offer.source)) {
            for (int stretch = 0; stretch < STRETCHES && !stopped.get(); stretch++) {
                try {
                    if (feed.goOn(file, part, progress(job, offer, stopped), stopped)) {
                        return true;
                    }
                    why = "the line was cut";
                } catch (Refusal | IOException cut) {
                    why = String.valueOf(cut.getMessage());
                }
                long there = Files.exists(part) ? Files.size(part) : 0;
                stretch = there > told ? 0 : stretch;
                told = there;
                if (!stopped.get()) {
                    pause(pause);
                    pause =
                            pause.multipliedBy(2).compareTo(Duration.ofSeconds(30)) > 0
                                    ? Duration.ofSeconds(30)
                                    : pause.multipliedBy(2);
                }
            }
        }
        failed(
                job,
                offer,
                stopped.get()
                        ? String.format(
                                Locale.ROOT,
                                "It was cancelled at %,d of %,d bytes; what came is kept.",
                                told,
                                offer.sizeBytes)
                        : String.format(
                                Locale.ROOT,
                                "The line was cut again and again, at last at %,d of %,d bytes"
                                        + " (%s); what came is kept. Fetch it again to go on.",
                                told,
                                offer.sizeBytes,
                                why));
        return false;
    }

    private java.util.function.LongConsumer progress(long job, Offer offer, AtomicBoolean stopped) {
        long[] next = {0};
        return there -> {
            if (there >= next[0]) {
                next[0] = there + TELLS_EVERY_BYTES;
                jobs.tell(
                        job,
                        String.format(
                                Locale.ROOT,
                                "%s, %,d of %,d bytes",
                                offer.fileName,
                                there,
                                offer.sizeBytes));
                stopped.set(jobs.isCancelled(job));
            }
        };
    }

    private static void pause(Duration pause) {
        try {
            Thread.sleep(pause);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        }
    }

    private void takeOver(Offer offer, Path part, String who) throws IOException {
        if (offer.kind.equals(Offer.CATALOGUE)) {
            String text = Files.readString(part, StandardCharsets.UTF_8);
            if (!calmstep.core.step.Digests.sha256(text).equals(offer.sha256)) {
                throw Refusal.unusable(
                        "The catalogue %s is not the published file: its SHA-256 differs. Fetch it again."
                                .formatted(offer.fileName),
                        List.of());
            }
            catalogues.take(offer.fileName, text, who);
            return;
        }
        try (InputStream in = Files.newInputStream(part)) {
            shelf.takeIn(offer.fileName, in, who);
        }
    }
}
