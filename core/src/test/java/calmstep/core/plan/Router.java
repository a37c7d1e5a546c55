package calmstep.core.plan;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import calmstep.core.fleet.Way;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** A device that has nothing to say against it; each test changes one thing. */
final class Router {
    static final Instant NOW = Instant.parse("2026-11-23T02:00:00Z");
    static final Set<String> SHELF = Set.of("osmer-r6c-2.6.3.img", "osmer-r6c-2.8.2.img");
    static final Catalogue OSMER = osmer();

    static Catalogue osmer() {
        try {
            return CatalogueText.read(
                    "c.yaml", Files.readString(Path.of("../demo/catalogue/osmer-r6.yaml")));
        } catch (java.io.IOException gone) {
            throw new IllegalStateException(gone);
        }
    }

    String revision = "C";
    Identity identity = new Identity("rt", "R6-4", "C", "S1");
    Abilities can = Abilities.PLAIN;
    boolean entitled = true;
    Set<String> redundancy = Set.of();
    String release = "2.4.0";
    String next = "osmer-r6c-2.4.0.img";
    boolean saved = true;
    boolean unsaved;
    long free = 40_000_000;
    List<StoredFile> files = List.of(new StoredFile("osmer-r6c-2.4.0.img", 8_912_896));
    Instant readAt = NOW.minusSeconds(60);
    Set<String> shelf = SHELF;
    boolean secret = true;
    boolean read = true;
    Optional<Catalogue> catalogue = Optional.of(OSMER);

    Draft draft(String target) {
        Device device =
                new Device(
                        "rt",
                        "osmer-r6",
                        new Hardware("R6-4", revision, "", ""),
                        "S1",
                        "dunmere",
                        "",
                        Set.of(),
                        "192.0.2.1",
                        22,
                        0,
                        List.of("steward"),
                        entitled,
                        Map.of(),
                        List.of(),
                        "the quay",
                        new Device.Wiring(Set.of(), false, redundancy),
                        new Way(List.of(), Optional.empty(), Set.of(), Optional.empty()));
        Reading reading =
                new Reading(
                        readAt,
                        identity,
                        new TreeMap<>(Map.of("system", release)),
                        new BootChoice("osmer-r6c-2.4.0.img", next, "", saved),
                        "start 1",
                        List.of(new Volume("flash", 64_000_000, free, files)),
                        unsaved,
                        "digest",
                        List.of());
        return PlanDrafting.draft(
                Target.parse(target),
                WayWanted.BEST,
                List.of(
                        new Subject(
                                device,
                                read ? Optional.of(reading) : Optional.empty(),
                                catalogue,
                                shelf,
                                secret,
                                can)),
                NOW);
    }

    List<String> findings(String target) {
        return draft(target).findings().stream()
                .map(f -> "%s %s %s".formatted(f.severity(), f.key(), f.choices()))
                .toList();
    }
}
