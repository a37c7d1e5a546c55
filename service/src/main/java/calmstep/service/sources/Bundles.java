package calmstep.service.sources;

import calmstep.core.step.Digests;
import calmstep.service.Settings;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import calmstep.service.plans.PlannedWork;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import calmstep.service.shelf.Shelf;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipFile;
import java.util.zip.ZipOutputStream;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionTemplate;

/** Catalogues and images in one signed file, to be carried by hand. */
@Component
class Bundles {
    private static final String CONTENTS = "contents.json";
    private static final String SIGNATURE = "contents.sig";
    private static final int MOST_CONTENTS_BYTES = 4 << 20;
    private static final int MOST_CATALOGUE_BYTES = 16 << 20;

    private final TrustedKeys keys;
    private final Signing signing;
    private final PlannedWork plans;
    private final Catalogues catalogues;
    private final Shelf shelf;
    private final Json json;
    private final Events events;
    private final TransactionTemplate transactions;
    private final Clock clock;
    private final Path folder;

    Bundles(
            TrustedKeys keys,
            Signing signing,
            PlannedWork plans,
            Catalogues catalogues,
            Shelf shelf,
            Json json,
            Events events,
            TransactionTemplate transactions,
            Clock clock,
            Settings settings)
            throws IOException {
        this.keys = keys;
        this.signing = signing;
        this.plans = plans;
        this.catalogues = catalogues;
        this.shelf = shelf;
        this.json = json;
        this.events = events;
        this.transactions = transactions;
        this.clock = clock;
        folder = Files.createDirectories(settings.data().resolve("fetching"));
    }

    /** One file of a bundle. */
    record Listed(String kind, String name, long sizeBytes, String sha256) {
        String entry() {
            return (kind.equals(Offer.CATALOGUE) ? "catalogues/" : "images/") + name;
        }
    }

    /** What a bundle says of itself. */
    record Contents(int bundle, Instant made, String by, String signer, List<Listed> files) {}

    /** A key that is trusted here, or our own. */
    record KeyView(String name, String publicKey, String fingerprint) {}

    /** What was taken over from a bundle. */
    record Taken(String signer, Instant made, List<String> catalogues, List<String> images) {}

    KeyView ownKey() {
        return new KeyView("own", signing.publicKey(), Signing.fingerprint(signing.publicKey()));
    }

    @Transactional(readOnly = true)
    List<KeyView> trusted() {
        return keys.findAllByOrderByName().stream()
                .map(k -> new KeyView(k.name, k.publicKey, k.fingerprint))
                .toList();
    }

    /** From now on, bundles that this key signed are taken. */
    @Transactional
    KeyView trust(String name, String publicKey, String who) {
        String key = publicKey.strip();
        Refusal.reading(() -> Signing.parse(key));
        keys.findByFingerprint(Signing.fingerprint(key))
                .filter(k -> !k.name.equals(name))
                .ifPresent(
                        k -> {
                            throw Refusal.conflict(
                                    "This key is trusted already, as \"%s\".".formatted(k.name));
                        });
        TrustedKey row = keys.findById(name).orElseGet(TrustedKey::new);
        row.name = name;
        row.publicKey = key;
        row.fingerprint = Signing.fingerprint(key);
        row.trustedAt = clock.instant();
        row.trustedBy = who;
        keys.save(row);
        events.append(
                Optional.empty(),
                name,
                "shelf",
                who,
                "Bundles of %s are trusted, key %s.".formatted(name, row.fingerprint));
        return new KeyView(row.name, row.publicKey, row.fingerprint);
    }

    @Transactional
    void distrust(String name, String who) {
        keys.delete(keys.findById(name).orElseThrow(() -> Refusal.notFound("trusted key", name)));
        events.append(
                Optional.empty(),
                name,
                "shelf",
                who,
                "Bundles of %s are no longer trusted.".formatted(name));
    }

    /** A bundle that is proven to be complete before the first byte is sent; it writes itself. */
    interface Written {
        void to(OutputStream out) throws IOException;
    }

    /**
     * A bundle with every catalogue of the images' families and the images themselves.
     *
     * @param files names of images on the shelf
     * @param plan its images besides; empty for none. Neither means all that is on the shelf
     * @throws Refusal when one of them is not on the shelf
     */
    Written of(List<String> files, String plan, String who) {
        Set<String> wanted = new java.util.TreeSet<>(files);
        if (!plan.isEmpty()) {
            wanted.addAll(plans.images(plan));
        }
        Set<String> here = shelf.fileNames();
        if (wanted.isEmpty()) {
            wanted.addAll(here);
        }
        List<String> missing = wanted.stream().filter(f -> !here.contains(f)).toList();
        mustBeHere(missing);
        List<Catalogues.Text> texts = catalogues.texts(wanted);
        List<Listed> listed = new ArrayList<>();
        listCatalogues(texts, listed);
        listImages(wanted, listed);
        byte[] contents = contentsOf(who, listed);
        byte[] signature = signing.sign(contents);
        transactions.executeWithoutResult(
                _ ->
                        events.append(
                                Optional.empty(),
                                "bundle",
                                "shelf",
                                who,
                                "A bundle was made: %s catalogues, %s images."
                                        .formatted(texts.size(), wanted.size())));
        return packed(contents, signature, texts, wanted);
    }

    private static void listCatalogues(List<Catalogues.Text> texts, List<Listed> listed) {
        texts.forEach(
                t ->
                        listed.add(
                                new Listed(
                                        Offer.CATALOGUE,
                                        t.family() + ".yaml",
                                        t.text().getBytes(StandardCharsets.UTF_8).length,
                                        Digests.sha256(t.text()))));
    }

    private Written packed(
            byte[] contents, byte[] signature, List<Catalogues.Text> texts, Set<String> wanted) {
        return out -> {
            try (ZipOutputStream zip = new ZipOutputStream(out)) {
                // Firmware is packed already: deflating it again costs time and saves nothing.
                zip.setLevel(0);
                put(zip, CONTENTS, contents);
                put(zip, SIGNATURE, signature);
                for (Catalogues.Text text : texts) {
                    put(
                            zip,
                            "catalogues/" + text.family() + ".yaml",
                            text.text().getBytes(StandardCharsets.UTF_8));
                }
                for (String image : wanted) {
                    zip.putNextEntry(new ZipEntry("images/" + image));
                    Files.copy(shelf.fileOf(image), zip);
                    zip.closeEntry();
                }
            }
        };
    }

    private byte[] contentsOf(String who, List<Listed> listed) {
        byte[] contents =
                json.write(
                                new Contents(
                                        1,
                                        clock.instant(),
                                        who,
                                        Signing.fingerprint(signing.publicKey()),
                                        listed))
                        .getBytes(StandardCharsets.UTF_8);
        return contents;
    }

    private void listImages(Set<String> wanted, List<Listed> listed) {
        wanted.stream()
                .map(shelf::require)
                .forEach(
                        i ->
                                listed.add(
                                        new Listed(
                                                "image", i.fileName(), i.sizeBytes(), i.sha256())));
    }

    private static void mustBeHere(List<String> missing) {
        if (!missing.isEmpty()) {
            throw Refusal.unusable(
                    "The bundle was not made: not all of it is on the shelf.",
                    missing.stream().map("%s is not on the shelf"::formatted).toList());
        }
    }

    private static void put(ZipOutputStream zip, String name, byte[] bytes) throws IOException {
        zip.putNextEntry(new ZipEntry(name));
        zip.write(bytes);
        zip.closeEntry();
    }

    /**
     * Takes a bundle over: the catalogues, then the images, each through the same proofs as by any
     * other way. Nothing of it before the signature and every listed file are proven.
     *
     * @throws Refusal with what is wrong
     */
    Taken take(String fileName, InputStream bytes, String who) {
        Path arrived = folder.resolve("bundle-" + UUID.randomUUID());
        try {
            Files.copy(bytes, arrived);
            try (ZipFile zip = new ZipFile(arrived.toFile())) {
                Contents contents = proven(fileName, zip);
                return takeOver(zip, contents, who);
            }
        } catch (ZipException broken) {
            throw Refusal.unusable(
                    "%s is not readable as a bundle: %s. Nothing was taken over."
                            .formatted(fileName, broken.getMessage()),
                    List.of());
        } catch (IOException failed) {
            throw Refusal.conflict(
                    "%s did not arrive whole: %s. Nothing was taken over; bring it again when there is room."
                            .formatted(fileName, failed.getMessage()));
        } finally {
            try {
                Files.deleteIfExists(arrived);
            } catch (IOException held) {
                arrived.toFile().deleteOnExit();
            }
        }
    }

    private Contents proven(String fileName, ZipFile zip) throws IOException {
        byte[] text = small(fileName, zip, CONTENTS);
        byte[] signature = small(fileName, zip, SIGNATURE);
        List<TrustedKey> signers =
                keys.findAll().stream()
                        .filter(k -> Signing.isSigned(text, signature, k.publicKey))
                        .toList();
        if (signers.isEmpty()) {
            throw Refusal.unusable(
                    "%s is not signed by a key that is trusted here. Expected one of: %s. Nothing was taken over. If it comes from a house of yours, trust its key: calmstep shelf trust NAME --key KEY"
                            .formatted(
                                    fileName,
                                    keys.findAllByOrderByName().isEmpty()
                                            ? "none is trusted yet"
                                            : String.join(
                                                    ", ",
                                                    trusted().stream()
                                                            .map(KeyView::name)
                                                            .toList())),
                    List.of());
        }
        Contents contents;
        try {
            contents = json.read(new String(text, StandardCharsets.UTF_8), Contents.class);
        } catch (RuntimeException notOurs) {
            throw Refusal.unusable(
                    "%s lists its files in a way that this version does not read. Nothing was taken over."
                            .formatted(fileName),
                    List.of());
        }
        List<String> wrong = new ArrayList<>();
        Set<String> expected = new HashSet<>(Set.of(CONTENTS, SIGNATURE));
        for (Listed one : contents.files()) {
            if (!expected.add(one.entry())) {
                wrong.add("%s is listed twice".formatted(one.name()));
            }
            check(zip, one).ifPresent(wrong::add);
        }
        zip.stream()
                .map(ZipEntry::getName)
                .filter(name -> !expected.remove(name))
                .forEach(
                        name ->
                                wrong.add(
                                        "%s is in it, but not in its list, or twice"
                                                .formatted(name)));
        if (!wrong.isEmpty()) {
            throw Refusal.unusable(
                    "%s is signed by %s, but not as it was made. Nothing was taken over; have it made again."
                            .formatted(fileName, signers.getFirst().name),
                    wrong);
        }
        return contents;
    }

    private static byte[] small(String fileName, ZipFile zip, String name) throws IOException {
        ZipEntry entry = zip.getEntry(name);
        if (entry == null) {
            throw Refusal.unusable(
                    "%s is no bundle: expected %s in it. Nothing was taken over."
                            .formatted(fileName, name),
                    List.of());
        }
        try (InputStream in = zip.getInputStream(entry)) {
            return in.readNBytes(MOST_CONTENTS_BYTES);
        }
    }

    /** What is wrong with a listed file; reads one byte behind its listed size at most. */
    private static Optional<String> check(ZipFile zip, Listed one) throws IOException {
        ZipEntry entry = zip.getEntry(one.entry());
        if (entry == null) {
            return Optional.of("%s is listed, but not in it".formatted(one.name()));
        }
        MessageDigest digest = Digests.newSha256();
        long size = 0;
        try (DigestInputStream in = new DigestInputStream(zip.getInputStream(entry), digest)) {
            byte[] buffer = new byte[65_536];
            for (int count = in.read(buffer);
                    count >= 0 && size <= one.sizeBytes();
                    count = in.read(buffer)) {
                size += count;
            }
        }
        if (size != one.sizeBytes()) {
            return Optional.of(
                    String.format(
                            Locale.ROOT,
                            "%s: expected %,d bytes, saw %s",
                            one.name(),
                            one.sizeBytes(),
                            size > one.sizeBytes()
                                    ? "more"
                                    : String.format(Locale.ROOT, "%,d", size)));
        }
        String seen = HexFormat.of().formatHex(digest.digest());
        return seen.equals(one.sha256())
                ? Optional.empty()
                : Optional.of(
                        "%s: expected SHA-256 %s, saw %s"
                                .formatted(one.name(), one.sha256(), seen));
    }

    private Taken takeOver(ZipFile zip, Contents contents, String who) throws IOException {
        List<String> taken = new ArrayList<>();
        List<Catalogues.Text> texts = new ArrayList<>();
        for (Listed one :
                contents.files().stream().filter(f -> f.kind().equals(Offer.CATALOGUE)).toList()) {
            if (one.sizeBytes() > MOST_CATALOGUE_BYTES) {
                throw Refusal.unusable(
                        String.format(
                                Locale.ROOT,
                                "%s has %,d bytes; expected a catalogue of up to %,d. Nothing was"
                                        + " taken over.",
                                one.name(),
                                one.sizeBytes(),
                                MOST_CATALOGUE_BYTES),
                        List.of());
            }
            try (InputStream in = zip.getInputStream(zip.getEntry(one.entry()))) {
                texts.add(
                        new Catalogues.Text(
                                one.name(), new String(in.readAllBytes(), StandardCharsets.UTF_8)));
            }
        }
        Set<String> known = catalogues.digests();
        transactions.executeWithoutResult(
                _ ->
                        texts.stream()
                                .filter(t -> !known.contains(Digests.sha256(t.text())))
                                .forEach(
                                        t ->
                                                taken.add(
                                                        catalogues
                                                                .take(t.family(), t.text(), who)
                                                                .title())));
        List<String> images = new ArrayList<>();
        for (Listed one :
                contents.files().stream().filter(f -> !f.kind().equals(Offer.CATALOGUE)).toList()) {
            try (InputStream in = zip.getInputStream(zip.getEntry(one.entry()))) {
                shelf.takeIn(one.name(), in, who).forEach(i -> images.add(i.fileName()));
            }
        }
        return new Taken(contents.signer(), contents.made(), taken, images);
    }
}
