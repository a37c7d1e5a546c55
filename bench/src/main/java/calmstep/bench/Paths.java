package calmstep.bench;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.Hardware;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.PathSearch;
import calmstep.core.path.Preference;
import calmstep.core.path.Question;
import calmstep.core.version.Version;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;

/** Path search at the sizes that the core is built for. */
final class Paths {
    private static final LocalDate TODAY = LocalDate.of(2026, 11, 1);
    private static final int RUNS = 7;

    private Paths() {}

    /** A family whose every tenth release must be stepped on by the ten behind it. */
    private static Catalogue catalogue(String family, int releases) {
        StringBuilder text = new StringBuilder("catalogue: 1\nfamily: %s\nissued: 2026-01-01\ncomponents: { system: { fields: 2 } }\nreleases:\n".formatted(family));
        for (int i = 0; i < releases; i++) {
            text.append("  - { version: %d.%d, date: 2025-01-01, images: [{ file: %s-%d.img, size-bytes: 1000, sha256: %s }] }\n".formatted(i / 100, i % 100, family, i, "a".repeat(64)));
        }
        text.append("rules:\n");
        for (int i = releases / 8; i < releases; i += releases / 8) {
            text.append("  - { id: r/%d, to: '>= %d.%d', from: '>= %d.%d', source: a note, says: a sentence }\n".formatted(i, i / 100, i % 100, (i - 10) / 100, (i - 10) % 100));
        }
        return CatalogueText.read(family, text.toString());
    }

    private static Question question(Catalogue catalogue, int from, int to) {
        Version running = catalogue.systemScheme().parse("%d.%d".formatted(from / 100, from % 100));
        return new Question(catalogue, new Hardware("m", "A", "", ""), true, new TreeMap<>(Map.of("system", running)), "system",
                catalogue.systemScheme().parse("%d.%d".formatted(to / 100, to % 100)), Preference.FEWEST_RESTARTS, TODAY, 0);
    }

    /** One path in a family of 2,000 releases: the median of several, warm. */
    static List<Figure> one() {
        Catalogue catalogue = catalogue("big", 2000);
        List<Double> times = new ArrayList<>();
        for (int run = 0; run < RUNS * 3; run++) {
            long start = System.nanoTime();
            if (!(PathSearch.answer(question(catalogue, 3, 1990)) instanceof PathAnswer.Found)) {
                throw new IllegalStateException("There is a path in this catalogue");
            }
            times.add((System.nanoTime() - start) / 1e6);
        }
        return List.of(new Figure("one-path", median(times.subList(RUNS, times.size())), "ms", 20));
    }

    /** 10,000 devices in 8 families of 200 releases, cold; the same question is worked out once. */
    static List<Figure> fleet() {
        List<Catalogue> catalogues = new ArrayList<>();
        for (int i = 0; i < 8; i++) {
            catalogues.add(catalogue("family-" + i, 200));
        }
        SplittableRandom random = new SplittableRandom(7);
        long start = System.nanoTime();
        Map<List<Integer>, PathAnswer> answers = new HashMap<>();
        for (int device = 0; device < 10_000; device++) {
            List<Integer> kind = List.of(random.nextInt(8), random.nextInt(190));
            answers.computeIfAbsent(kind, k -> PathSearch.answer(question(catalogues.get(k.get(0)), k.get(1), 199)));
        }
        return List.of(new Figure("fleet-paths", (System.nanoTime() - start) / 1e9, "s", 1));
    }

    static double median(List<Double> values) {
        return values.stream().sorted().toList().get(values.size() / 2);
    }
}
