package calmstep.dialect;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.device.ImageSource;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Way;
import calmstep.core.plan.PlanDrafting;
import calmstep.core.plan.Subject;
import calmstep.core.plan.Target;
import calmstep.core.plan.WayWanted;
import calmstep.core.step.UnitPlan;
import calmstep.core.version.VersionScheme;
import calmstep.practice.PracticeFleet;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** The files of the demo, and the images that its fleet starts from. */
final class DemoFiles {
    static final Path IMAGES = Path.of("../build/test-images");

    static final Path DEMO = Path.of("../demo");

    static boolean imagesMade;

    static List<Device> devices = List.of();

    /** Once for all nights of this process: proving a hundred images takes a while. */
    static synchronized void makeImages() throws IOException {
        if (!imagesMade) {
            PracticeFleet.writeImages(DEMO.resolve("practice-fleet.yaml"), IMAGES);
            PracticeFleet.writeImages(DEMO.resolve("practice-images.yaml"), IMAGES);
            imagesMade = true;
        }
    }

    static String machine(String name, String fleet) {
        int begins = fleet.indexOf("  - name: %s\n".formatted(name));
        int ends =
                Stream.of(
                                fleet.indexOf("\n  - name: ", begins + 1),
                                fleet.indexOf("\n# What stands", begins),
                                fleet.length())
                        .filter(at -> at > 0)
                        .min(Integer::compareTo)
                        .orElseThrow();
        return fleet.substring(begins, ends) + "\n";
    }

    static String text(String file) {
        try {
            return Files.readString(DEMO.resolve(file));
        } catch (IOException gone) {
            throw new UncheckedIOException(gone);
        }
    }

    /** An image as it is published. */
    static Path image(String file) {
        return IMAGES.resolve(file);
    }

    static ByteBuffer bytes(String file) {
        try {
            return ByteBuffer.wrap(Files.readAllBytes(IMAGES.resolve(file)));
        } catch (IOException gone) {
            throw new UncheckedIOException(gone);
        }
    }

    /** Every device of the demo, as its inventory has it; read once for all nights. */
    static synchronized List<Device> devices() throws IOException {
        if (devices.isEmpty()) {
            Map<String, Map<String, VersionScheme>> schemes = new HashMap<>();
            try (Stream<Path> files = Files.list(DEMO.resolve("catalogue"))) {
                for (Path file : files.toList()) {
                    Catalogue read = CatalogueText.read(file.toString(), Files.readString(file));
                    schemes.put(read.family(), read.schemes());
                }
            }
            devices =
                    InventoryText.read(
                                    "northmere.yaml",
                                    text("northmere.yaml"),
                                    InventoryText.Format.YAML,
                                    schemes)
                            .devices();
        }
        return devices;
    }

    /** Images as the shelf of a test opens them. */
    static ImageSource servedAt(String address, int port) {
        return new ImageSource() {
            @Override
            public URI open(String file, String device) {
                return URI.create("http://%s:%s/%s".formatted(address, port, file));
            }

            @Override
            public URI openForLoader(String file, String device) {
                throw new AssertionError("nobody is rescued here");
            }

            @Override
            public Opened read(String file, String device) {
                ByteBuffer bytes = bytes(file);
                return new Opened() {
                    @Override
                    public int next(byte[] room) {
                        int count = Math.min(room.length, bytes.remaining());
                        bytes.get(room, 0, count);
                        return count == 0 ? -1 : count;
                    }

                    @Override
                    public void close() {}
                };
            }
        };
    }

    /** The plan of one device of the demo alone, from what was read of it. */
    static UnitPlan draft(
            Reading reading,
            String name,
            String address,
            int port,
            Catalogue catalogue,
            Dialect dialect,
            String target,
            WayWanted way,
            Optional<String> medium)
            throws IOException {
        Device written =
                devices().stream().filter(one -> one.name().equals(name)).findFirst().orElseThrow();
        Device device =
                new Device(
                                name,
                                written.family(),
                                written.hardware(),
                                reading.identity().serial(),
                                written.site(),
                                written.role(),
                                written.tags(),
                                address,
                                port,
                                0,
                                written.logins(),
                                written.entitled(),
                                written.runs(),
                                written.parts(),
                                written.serves(),
                                written.wiring(),
                                new Way(List.of(), Optional.empty(), Set.of(), medium))
                        .withParts(reading);
        Set<String> images =
                catalogue.releases().stream()
                        .flatMap(release -> release.images().stream())
                        .map(image -> image.fileName())
                        .collect(Collectors.toSet());
        return PlanDrafting.draft(
                        Target.parse(target),
                        way,
                        List.of(
                                new Subject(
                                        device,
                                        Optional.of(reading),
                                        Optional.of(catalogue),
                                        images,
                                        true,
                                        dialect.abilities())),
                        Clock.systemUTC().instant())
                .units()
                .getFirst();
    }
}
