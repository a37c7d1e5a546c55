package calmstep.service.shelf;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.device.ImageSource;
import calmstep.core.step.Digests;
import calmstep.service.Settings;
import calmstep.service.events.Events;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Catalogues;
import calmstep.service.releases.Catalogues.Published;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** The images that were taken in and proven. */
@Component
public class Shelf implements ImageSource {
    /** A file that trickles over the air beside the traffic takes a day. */
    private static final Duration TRANSFER_OPEN_FOR = Duration.ofHours(26);

    private final OpenDoors doors;
    private final ShelfImages images;
    private final Quarantine quarantine;
    private final Transfers transfers;
    private final Copies copies;
    private final Catalogues catalogues;
    private final Events events;
    private final TransactionTemplate transactions;
    private final Settings settings;
    private final Clock clock;
    private final Path folder;
    private final Path quarantineFolder;

    Shelf(
            OpenDoors doors,
            ShelfImages images,
            Quarantine quarantine,
            Transfers transfers,
            Copies copies,
            Catalogues catalogues,
            Events events,
            TransactionTemplate transactions,
            Settings settings,
            Clock clock)
            throws IOException {
        this.doors = doors;
        this.images = images;
        this.quarantine = quarantine;
        this.transfers = transfers;
        this.copies = copies;
        this.catalogues = catalogues;
        this.events = events;
        this.transactions = transactions;
        this.settings = settings;
        this.clock = clock;
        folder = Files.createDirectories(settings.data().resolve("shelf"));
        quarantineFolder = Files.createDirectories(settings.data().resolve("quarantine"));
    }

    /** An image on the shelf. */
    public record ImageView(
            String fileName,
            String family,
            String release,
            long sizeBytes,
            String sha256,
            Instant takenInAt,
            String takenInBy) {
        static ImageView of(ShelfImage i) {
            return new ImageView(
                    i.fileName,
                    i.family,
                    i.release,
                    i.sizeBytes,
                    i.sha256,
                    i.takenInAt,
                    i.takenInBy);
        }
    }

    /** A file that was refused, and why. */
    public record QuarantineView(
            String fileName,
            String expected,
            String seen,
            String remedy,
            Instant at,
            String broughtBy) {}

    private record Measured(long sizeBytes, String sha256) {}

    /**
     * Takes an image in, or the images in a zip archive. Size and digest are taken while the bytes
     * stream in; nothing is on the shelf before both are proven.
     *
     * @throws Refusal when no catalogue publishes a file of that name (nothing is kept), or the
     *     file is not the published one (it is kept in quarantine)
     */
    public List<ImageView> takeIn(String fileName, InputStream bytes, String who) {
        Optional<Published> image = catalogues.findImage(fileName);
        List<Published> packed = image.isPresent() ? List.of() : catalogues.imagesIn(fileName);
        mustBePublished(image, packed, fileName);
        try {
            return image.isPresent()
                    ? List.of(takeImage(image.get(), bytes, who))
                    : takeArchive(packed, bytes, who);
        } catch (IOException failed) {
            throw Refusal.conflict(
                    "%s did not arrive whole: %s. Nothing was kept; send it again when there is room and a line."
                            .formatted(fileName, failed.getMessage()));
        }
    }

    private static void mustBePublished(
            Optional<Published> image, List<Published> packed, String fileName) {
        if (image.isEmpty() && packed.isEmpty()) {
            throw Refusal.unusable(
                    "No catalogue publishes a file named \"%s\". Check the name, or import the catalogue that has it first."
                            .formatted(fileName),
                    List.of());
        }
    }

    private ImageView takeImage(Published published, InputStream bytes, String who)
            throws IOException {
        FirmwareImage expected = published.published().image();
        Path arrived =
                prove(expected.fileName(), expected.sizeBytes(), expected.sha256(), bytes, who);
        Files.move(
                arrived,
                folder.resolve(expected.fileName()),
                StandardCopyOption.ATOMIC_MOVE,
                StandardCopyOption.REPLACE_EXISTING);
        return Optional.ofNullable(transactions.execute(_ -> file(published, who))).orElseThrow();
    }

    /** The archive is proven first, then each image in it by itself. */
    private List<ImageView> takeArchive(List<Published> packed, InputStream bytes, String who)
            throws IOException {
        FirmwareImage.Archive archive =
                packed.getFirst().published().image().archive().orElseThrow();
        Path arrived = prove(archive.fileName(), archive.sizeBytes(), archive.sha256(), bytes, who);
        try (ZipPayload payload =
                ZipPayload.open(
                        archive.fileName(),
                        arrived,
                        packed.stream().map(p -> p.published().image()).toList())) {
            return takeEach(packed, payload, who);
        } finally {
            Files.deleteIfExists(arrived);
        }
    }

    private List<ImageView> takeEach(List<Published> packed, ZipPayload payload, String who)
            throws IOException {
        List<ImageView> taken = new ArrayList<>();
        for (Published one : packed) {
            try (InputStream image = payload.image(one.published().image())) {
                taken.add(takeImage(one, image, who));
            }
        }
        return taken;
    }

    /** A file that arrived and is the published one; else it is in quarantine and refused. */
    private Path prove(
            String fileName, long sizeBytes, String sha256, InputStream bytes, String who)
            throws IOException {
        Path arriving = quarantineFolder.resolve("arriving-" + UUID.randomUUID());
        try {
            Measured measured = receive(bytes, arriving, sizeBytes);
            if (measured.sizeBytes() != sizeBytes || !measured.sha256().equals(sha256)) {
                throw refuse(fileName, sizeBytes, sha256, measured, arriving, who);
            }
            return arriving;
        } catch (IOException failed) {
            Files.deleteIfExists(arriving);
            throw failed;
        }
    }

    /** Stops one byte behind the published size: a stream that is longer is wrong already. */
    private static Measured receive(InputStream in, Path file, long expectedBytes)
            throws IOException {
        MessageDigest digest = Digests.newSha256();
        long size = 0;
        try (DigestOutputStream out = new DigestOutputStream(Files.newOutputStream(file), digest)) {
            byte[] buffer = new byte[65_536];
            for (int count = in.read(buffer); count >= 0; count = in.read(buffer)) {
                out.write(buffer, 0, count);
                size += count;
                if (size > expectedBytes) {
                    break;
                }
            }
        }
        return new Measured(size, HexFormat.of().formatHex(digest.digest()));
    }

    private ImageView file(Published published, String who) {
        FirmwareImage image = published.published().image();
        ShelfImage row = images.findByFileName(image.fileName()).orElseGet(ShelfImage::new);
        fill(row, image, published, who);
        images.save(row);
        events.append(
                Optional.empty(),
                image.fileName(),
                "shelf",
                who,
                "%s taken in: size and SHA-256 as published.".formatted(image.fileName()));
        return ImageView.of(row);
    }

    private void fill(ShelfImage row, FirmwareImage image, Published published, String who) {
        row.fileName = image.fileName();
        row.family = published.catalogue().family();
        row.release = published.published().release().version().text();
        row.sizeBytes = image.sizeBytes();
        row.sha256 = image.sha256();
        row.takenInAt = clock.instant();
        row.takenInBy = who;
    }

    private Refusal refuse(
            String fileName,
            long sizeBytes,
            String sha256,
            Measured seen,
            Path arrived,
            String who) {
        boolean sizeWrong = seen.sizeBytes() != sizeBytes;
        Quarantined row = new Quarantined();
        row.fileName = fileName;
        row.storedAs = arrived.getFileName().toString();
        row.expected =
                sizeWrong
                        ? String.format(Locale.ROOT, "%,d bytes", sizeBytes)
                        : "SHA-256 " + sha256;
        String size =
                seen.sizeBytes() > sizeBytes
                        ? String.format(Locale.ROOT, "more than %,d bytes", sizeBytes)
                        : String.format(Locale.ROOT, "%,d bytes", seen.sizeBytes());
        row.seen = sizeWrong ? size : "SHA-256 " + seen.sha256();
        row.remedy =
                "The file is in quarantine and will not be served. Get it from its maker again.";
        row.at = clock.instant();
        row.broughtBy = who;
        transactions.executeWithoutResult(
                _ -> {
                    quarantine.save(row);
                    events.append(
                            Optional.empty(),
                            row.fileName,
                            "shelf",
                            who,
                            "%s refused: expected %s, seen %s."
                                    .formatted(row.fileName, row.expected, row.seen));
                });
        return Refusal.unusable(
                "%s is not the published file. Expected: %s. Seen: %s. %s"
                        .formatted(row.fileName, row.expected, row.seen, row.remedy),
                List.of());
    }

    public boolean has(String fileName) {
        return images.findByFileName(fileName).isPresent();
    }

    /**
     * @throws Refusal when it is not on the shelf
     */
    public ImageView require(String fileName) {
        return images.findByFileName(fileName)
                .map(ImageView::of)
                .orElseThrow(() -> Refusal.notFound("image", fileName));
    }

    /** Where an image lies that is on the shelf. */
    public Path fileOf(String fileName) {
        return folder.resolve(require(fileName).fileName());
    }

    public Set<String> fileNames() {
        return images.findAll().stream().map(i -> i.fileName).collect(Collectors.toSet());
    }

    List<ImageView> all() {
        return images.findAll().stream()
                .map(ImageView::of)
                .sorted(java.util.Comparator.comparing(ImageView::fileName))
                .toList();
    }

    List<QuarantineView> quarantined() {
        return quarantine.findAll().stream()
                .map(
                        q ->
                                new QuarantineView(
                                        q.fileName,
                                        q.expected,
                                        q.seen,
                                        q.remedy,
                                        q.at,
                                        q.broughtBy))
                .toList();
    }

    private void allow(String fileName, String deviceAddress) {
        Transfer transfer = new Transfer();
        transfer.fileName = fileName;
        transfer.deviceAddress = deviceAddress;
        transfer.openedAt = clock.instant();
        transfer.until = clock.instant().plus(TRANSFER_OPEN_FOR);
        transfers.save(transfer);
    }

    @Override
    public Opened read(String fileName, String deviceAddress) {
        allow(fileName, deviceAddress);
        return new OpenedFile(
                copies,
                deviceAddress,
                servable(fileName, deviceAddress)
                        .orElseThrow(
                                () ->
                                        Refusal.conflict(
                                                "%s is not on the shelf as it was proven. Take it in again."
                                                        .formatted(fileName))));
    }

    @Override
    public URI open(String fileName, String deviceAddress) {
        return opened(settings.shelf().by(), settings.shelf().port(), fileName, deviceAddress);
    }

    @Override
    public URI openForLoader(String fileName, String deviceAddress) {
        return opened("tftp", settings.shelf().tftpPort(), fileName, deviceAddress);
    }

    private URI opened(String by, int port, String fileName, String deviceAddress) {
        allow(fileName, deviceAddress);
        return URI.create(
                "%s://%s:%s/%s"
                        .formatted(
                                by,
                                Told.to(settings.shelf().told(), deviceAddress),
                                port,
                                fileName));
    }

    /** Names of what a device may pull now. */
    List<String> openFor(String deviceAddress) {
        return transfers.namesOpenFor(deviceAddress, clock.instant());
    }

    /**
     * The file that a device may pull under this name: empty for a name that is not plainly the
     * name of a verified image, for a device without an open transfer, and when the stored file is
     * not as large as it was when it was proven.
     */
    Optional<Path> servable(String name, String deviceAddress) {
        return doors.find(name, deviceAddress, clock.instant())
                .map(image -> new Stored(folder.resolve(image.fileName()), image.sizeBytes()))
                .filter(Stored::isWhole)
                .map(Stored::file);
    }

    private record Stored(Path file, long sizeBytes) {
        boolean isWhole() {
            try {
                return Files.isRegularFile(file) && Files.size(file) == sizeBytes;
            } catch (IOException gone) {
                throw new UncheckedIOException(gone);
            }
        }
    }
}
