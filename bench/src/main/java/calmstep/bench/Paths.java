package calmstep.bench;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Device;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.Preference;
import calmstep.core.plan.PathBook;
import calmstep.core.plan.Target;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;

/** Path search at the sizes that the core is built for. */
final class Paths {
    private static final LocalDate TODAY = LocalDate.of(2026, 11, 1);
    private static final int WARM_UP = 80;
    private static final int RUNS = 15;

    private Paths() {}

    /** A family whose every tenth release must be stepped on by the ten behind it. */
    private static Catalogue catalogue(String family, int releases) {
        StringBuilder text =
                new StringBuilder(
                        "catalogue: 1\nfamily: %s\nissued: 2026-01-01\ncomponents: { system: { fields: 2 } }\nreleases:\n"
                                .formatted(family));
        for (int i = 0; i < releases; i++) {
            text.append(
                    "  - { version: %s.%s, date: 2025-01-01, images: [{ file: %s-%s.img, size-bytes: 1000, sha256: %s }] }\n"
                            .formatted(i / 100, i % 100, family, i, "a".repeat(64)));
        }
        text.append("rules:\n");
        for (int i = releases / 8; i < releases; i += releases / 8) {
            text.append(
                    "  - { id: r/%s, to: '>= %s.%s', from: '>= %s.%s', source: a note, says: a sentence }\n"
                            .formatted(i, i / 100, i % 100, (i - 10) / 100, (i - 10) % 100));
        }
        return CatalogueText.read(family, text.toString());
    }

    private static Device device(int number, String family) {
        return new Device(
                "d-" + number,
                family,
                new Hardware("m", "A", "", ""),
                "",
                "s",
                "",
                "192.0.2.1",
                22,
                0,
                "",
                true,
                Map.of(),
                "");
    }

    private static String release(int number) {
        return "%s.%s".formatted(number / 100, number % 100);
    }

    /**
     * One path in a family of 2,000 releases, nothing kept from the one before: the median of
     * several in a process that has been up for a while (as a service is), and the very first one
     * in a fresh process (as a client without a service is).
     */
    static List<Figure> one() {
        Catalogue catalogue = catalogue("big", 2000);
        List<Double> times = new ArrayList<>();
        for (int run = 0; run < WARM_UP + RUNS; run++) {
            long start = System.nanoTime();
            PathBook.Entry entry = look(run, catalogue);
            if (!(entry.answer().orElseThrow() instanceof PathAnswer.Found)) {
                throw new IllegalStateException("There is a path in this catalogue");
            }
            times.add((System.nanoTime() - start) / 1e6);
        }
        return List.of(
                new Figure("path-large", median(times.subList(WARM_UP, times.size())), "ms", 20),
                new Figure("path-large-cold", times.getFirst(), "ms", 400));
    }

    private static PathBook.Entry look(int run, Catalogue catalogue) {
        PathBook.Entry entry =
                new PathBook(Preference.FEWEST_RESTARTS, TODAY)
                        .look(
                                device(run, "big"),
                                Map.of("system", release(3)),
                                catalogue,
                                new Target.Exactly(release(1990)));
        return entry;
    }

    /** 10,000 devices in 8 families of 200 releases, cold: nothing was asked before. */
    static List<Figure> fleet() {
        List<Catalogue> catalogues = new ArrayList<>();
        for (int i = 0; i < 8; i++) {
            catalogues.add(catalogue("family-" + i, 200));
        }
        SplittableRandom random = new SplittableRandom(7);
        long start = System.nanoTime();
        PathBook book = new PathBook(Preference.FEWEST_RESTARTS, TODAY);
        lookAtAll(catalogues, random, book);
        return List.of(new Figure("paths", (System.nanoTime() - start) / 1e9, "s", 1));
    }

    private static void lookAtAll(
            List<Catalogue> catalogues, SplittableRandom random, PathBook book) {
        for (int number = 0; number < 10_000; number++) {
            Catalogue catalogue = catalogues.get(random.nextInt(8));
            if (!(book.look(
                                    device(number, catalogue.family()),
                                    Map.of("system", release(random.nextInt(190))),
                                    catalogue,
                                    new Target.Exactly(release(199)))
                            .answer()
                            .orElseThrow()
                    instanceof PathAnswer.Found)) {
                throw new IllegalStateException("There is a path in this catalogue");
            }
        }
    }

    static double median(List<Double> values) {
        return values.stream().sorted().toList().get(values.size() / 2);
    }
}
