package calmstep.core.catalogue;

/**
 * A firmware image as its maker published it.
 *
 * @param fileName  the exact name under which devices ask for it
 * @param sizeBytes size of the file
 * @param sha256    digest of the whole file, 64 lower-case hex digits
 */
public record FirmwareImage(String fileName, long sizeBytes, String sha256, Purpose purpose, Variant variant) {
    public FirmwareImage {
        if (sizeBytes <= 0) {
            throw new IllegalArgumentException("Image %s: its size must be positive, was %d.".formatted(fileName, sizeBytes));
        }
        if (!sha256.matches("[0-9a-f]{64}")) {
            throw new IllegalArgumentException(
                    "Image %s: expected a SHA-256 of 64 lower-case hex digits, saw \"%s\".".formatted(fileName, sha256));
        }
        if (!fileName.matches("[A-Za-z0-9][A-Za-z0-9._+-]*")) {
            throw new IllegalArgumentException(
                    "Expected a plain file name (letters, digits, dot, dash, underscore, plus), saw \"%s\".".formatted(fileName));
        }
    }
}
