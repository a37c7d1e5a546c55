package calmstep.practice;

import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;

/** What a machine says on its console line of its own accord, and who hears it. */
final class Voice {
    private final List<Consumer<String>> hearers = new CopyOnWriteArrayList<>();

    /** From now on. */
    void heardBy(Consumer<String> hearer) {
        hearers.add(hearer);
    }

    void leave(Consumer<String> hearer) {
        hearers.remove(hearer);
    }

    void says(String words) {
        hearers.forEach(hearer -> hearer.accept(words + "\n"));
    }

    /**
     * While it reads its settings, at the end of a start.
     *
     * @param complains of the last line
     */
    void reads(List<String> settings, boolean complains) {
        says("settings: %s lines read".formatted(settings.size()));
        if (complains && !settings.isEmpty()) {
            says(
                    "settings: line %s not understood: %s"
                            .formatted(settings.size(), settings.getLast().strip()));
        }
    }
}
