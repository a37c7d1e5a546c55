package calmstep.service.shelf;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.service.problems.Refusal;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.Enumeration;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipFile;

/**
 * A zip archive that a maker publishes, with images in it. Looked through as a whole before
 * anything is taken out: names that lead out of it, names that are there twice, more entries or
 * more bytes than an archive of images can have refuse it. Nothing is ever written under a name of
 * the archive's own.
 */
final class ZipPayload implements AutoCloseable {
    private static final int MOST_ENTRIES = 2_000;

    /** What may stand beside the images: notes, licences, tools. */
    private static final long BESIDE_BYTES = 256L << 20;

    private final String archive;
    private final ZipFile zip;

    private ZipPayload(String archive, ZipFile zip) {
        this.archive = archive;
        this.zip = zip;
    }

    /**
     * @param images what the catalogue says is in it
     * @throws Refusal when it is no zip archive, or not one that can be trusted
     */
    static ZipPayload open(String archive, Path file, List<FirmwareImage> images)
            throws IOException {
        try {
            ZipPayload payload = new ZipPayload(archive, new ZipFile(file.toFile()));
            try {
                payload.check(images);
                return payload;
            } catch (RuntimeException refused) {
                payload.close();
                throw refused;
            }
        } catch (ZipException broken) {
            throw Refusal.unusable(
                    "%s is not readable as a zip archive: %s."
                            .formatted(archive, broken.getMessage()),
                    List.of());
        }
    }

    private void check(List<FirmwareImage> images) {
        long most = images.stream().mapToLong(FirmwareImage::sizeBytes).sum() + BESIDE_BYTES;
        Set<String> names = new HashSet<>();
        long bytes = 0;
        Enumeration<? extends ZipEntry> entries = zip.entries();
        while (entries.hasMoreElements()) {
            ZipEntry entry = entries.nextElement();
            if (leadsOut(entry.getName())) {
                throw refuse(
                        "it has the name \"%s\", which leads out of the archive"
                                .formatted(entry.getName()));
            }
            if (!names.add(entry.getName().toLowerCase(Locale.ROOT))) {
                throw refuse("it has the name \"%s\" twice".formatted(entry.getName()));
            }
            bytes += Math.max(0, entry.getSize());
            if (names.size() > MOST_ENTRIES || bytes > most) {
                throw refuse(
                        String.format(
                                Locale.ROOT,
                                "it would unpack to more than %,d entries or %,d bytes",
                                MOST_ENTRIES,
                                most));
            }
        }
    }

    private static boolean leadsOut(String name) {
        return name.startsWith("/")
                || name.contains("\\")
                || name.contains(":")
                || List.of(name.split("/")).contains("..");
    }

    private Refusal refuse(String why) {
        return Refusal.unusable(
                "%s is refused: %s. Nothing was taken out of it; get it from its maker again."
                        .formatted(archive, why),
                List.of());
    }

    /**
     * The bytes of an image, wherever in the archive it lies; its reader stops one byte behind its
     * published size, whatever the archive says.
     */
    InputStream image(FirmwareImage image) throws IOException {
        List<? extends ZipEntry> found = zip.stream().filter(e -> isNamed(e, image)).toList();
        if (found.size() != 1) {
            throw refuse(
                    "expected the image %s in it once, found it %s"
                            .formatted(
                                    image.fileName(),
                                    found.isEmpty() ? "not at all" : found.size() + " times"));
        }
        return zip.getInputStream(found.getFirst());
    }

    private static boolean isNamed(ZipEntry e, FirmwareImage image) {
        return !e.isDirectory()
                && e.getName().substring(e.getName().lastIndexOf('/') + 1).equals(image.fileName());
    }

    @Override
    public void close() throws IOException {
        zip.close();
    }
}
