package calmstep.core.catalogue;

import calmstep.core.version.Version;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * A firmware image as its maker published it.
 *
 * @param fileName the exact name under which devices ask for it
 * @param sizeBytes size of the file
 * @param sha256 digest of the whole file, 64 lower-case hex digits
 * @param part which of the parts that belong together it is ({@code upper}, {@code lower}); empty
 *     for an image that is whole
 * @param deltaFrom the one release that it can be applied to; empty for an image that needs none
 *     before it
 * @param archive the file in which it is published, where it is not published as it is
 */
public record FirmwareImage(
        String fileName,
        long sizeBytes,
        String sha256,
        Purpose purpose,
        Variant variant,
        String part,
        Optional<Version> deltaFrom,
        Optional<Archive> archive) {

    private static final Pattern SHA256 = Pattern.compile("[0-9a-f]{64}");
    private static final Pattern NAME = Pattern.compile("[A-Za-z0-9][A-Za-z0-9._+-]*");

    /** A zip archive that holds an image. */
    public record Archive(String fileName, long sizeBytes, String sha256) {
        public Archive {
            check(fileName, sizeBytes, sha256);
        }
    }

    public FirmwareImage {
        check(fileName, sizeBytes, sha256);
    }

    /** An image that is whole and published as it is. */
    public FirmwareImage(
            String fileName, long sizeBytes, String sha256, Purpose purpose, Variant variant) {
        this(fileName, sizeBytes, sha256, purpose, variant, "", Optional.empty(), Optional.empty());
    }

    static boolean isSha256(String text) {
        return SHA256.matcher(text).matches();
    }

    private static void check(String fileName, long sizeBytes, String sha256) {
        if (sizeBytes <= 0) {
            throw new IllegalArgumentException(
                    "Image %s: its size must be positive, was %s.".formatted(fileName, sizeBytes));
        }
        if (!isSha256(sha256)) {
            throw new IllegalArgumentException(
                    "Image %s: expected a SHA-256 of 64 lower-case hex digits, saw \"%s\"."
                            .formatted(fileName, sha256));
        }
        if (!NAME.matcher(fileName).matches()) {
            throw new IllegalArgumentException(
                    "Expected a plain file name (letters, digits, dot, dash, underscore, plus), saw \"%s\"."
                            .formatted(fileName));
        }
    }
}
