package calmstep.core.step;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Hardware;
import calmstep.core.catalogue.Purpose;
import calmstep.core.catalogue.Release;
import calmstep.core.path.Hop;
import java.util.Comparator;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;

/** Which image a device is rescued with. */
public final class RescueImage {
    private RescueImage() {}

    /**
     * What may be started from the memory of a device, the best first: what its maker made for it
     * (the newest first), then what it ran when it last served, then what it was about to run. A
     * delta or one part of several starts nothing.
     *
     * @param ranBefore release of the system when it last served
     * @param onShelf names of the images that can be served
     */
    public static List<FirmwareImage> candidates(
            Catalogue catalogue,
            Hardware hardware,
            String ranBefore,
            Hop hop,
            Set<String> onShelf) {
        List<Release> newestFirst = newestFirst(catalogue);
        Stream<FirmwareImage> recovery = recovery(newestFirst);
        Stream<FirmwareImage> before = ofRelease(newestFirst, ranBefore);
        Stream<FirmwareImage> wanted = wanted(hop, newestFirst);
        return Stream.of(recovery, before, wanted)
                .flatMap(some -> some)
                .filter(image -> isUsable(image, hardware, onShelf))
                .distinct()
                .toList();
    }

    private static boolean isUsable(FirmwareImage image, Hardware hardware, Set<String> onShelf) {
        return image.variant().fits(hardware)
                && image.deltaFrom().isEmpty()
                && image.part().isEmpty()
                && onShelf.contains(image.fileName());
    }

    private static Stream<FirmwareImage> wanted(Hop hop, List<Release> newestFirst) {
        Stream<FirmwareImage> wanted =
                hop.component().equals(Catalogue.SYSTEM)
                        ? ofRelease(newestFirst, hop.to())
                        : Stream.of();
        return wanted;
    }

    private static Stream<FirmwareImage> recovery(List<Release> newestFirst) {
        Stream<FirmwareImage> recovery =
                newestFirst.stream()
                        .flatMap(release -> release.images().stream())
                        .filter(image -> image.purpose() == Purpose.RECOVERY);
        return recovery;
    }

    private static List<Release> newestFirst(Catalogue catalogue) {
        List<Release> newestFirst =
                catalogue.releases().stream()
                        .filter(release -> release.component().equals(Catalogue.SYSTEM))
                        .sorted(Comparator.comparing(Release::version).reversed())
                        .toList();
        return newestFirst;
    }

    private static Stream<FirmwareImage> ofRelease(List<Release> releases, String version) {
        return releases.stream()
                .filter(release -> release.version().text().equals(version))
                .flatMap(release -> release.images().stream())
                .filter(image -> image.purpose() != Purpose.FIRST_INSTALL);
    }
}
