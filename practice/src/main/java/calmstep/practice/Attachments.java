package calmstep.practice;

import java.time.Duration;
import java.util.HashSet;
import java.util.List;
import java.util.Properties;
import java.util.Set;

/**
 * The things that hang on one machine. What each runs, and what it holds for its next start, stands
 * in the machine's memory. One that takes its firmware from the machine restarts behind it when the
 * machine came up with another release: at once where it holds that release already, else after it
 * has fetched it.
 */
final class Attachments {
    private static final OneThread TIMER = new OneThread("practice-attached");

    private final List<Attached> described;
    private final Properties memory;
    private final Runnable keep;
    private final int pace;
    private final Set<String> away = new HashSet<>();
    private final Set<String> fetching = new HashSet<>();
    private int epoch;

    Attachments(List<Attached> described, Properties memory, Runnable keep, int pace) {
        this.described = described;
        this.memory = memory;
        this.keep = keep;
        this.pace = pace;
    }

    /**
     * How one is now.
     *
     * @param holds release that its next start takes over; empty for none
     */
    record Shown(Attached what, String runs, String holds, boolean serves) {}

    synchronized List<Shown> shown() {
        return described.stream()
                .map(
                        one ->
                                new Shown(
                                        one,
                                        runs(one),
                                        memory.getProperty(key(one, "holds"), ""),
                                        !away.contains(one.name())))
                .toList();
    }

    private static String key(Attached one, String what) {
        return "attached.%s.%s".formatted(one.name(), what);
    }

    private String runs(Attached one) {
        return memory.getProperty(key(one, "runs"), one.runs());
    }

    private void set(Attached one, String what, String release) {
        if (release.isEmpty()) {
            memory.remove(key(one, what));
        } else {
            memory.setProperty(key(one, what), release);
        }
        keep.run();
    }

    /** Whether one of them copies or starts. */
    synchronized boolean isBusy() {
        return !fetching.isEmpty()
                || described.stream()
                        .anyMatch(
                                one ->
                                        away.contains(one.name())
                                                && !memory.containsKey(key(one, "lost")));
    }

    /** Brings a release to all that follow the machine; they go on serving. */
    synchronized void preLoad(String release) {
        int begun = epoch;
        described.stream()
                .filter(one -> one.follows() && !runs(one).equals(release))
                .forEach(
                        one -> {
                            fetching.add(one.name());
                            after(
                                    one.fetchesIn(),
                                    begun,
                                    () -> {
                                        fetching.remove(one.name());
                                        set(one, "holds", release);
                                    });
                        });
    }

    /**
     * All of a kind take a release over and restart for it, each on its own; the machine goes
     * on. @return how many do
     */
    synchronized int load(String kind, String release) {
        List<Attached> some = described.stream().filter(one -> one.kind().equals(kind)).toList();
        int begun = epoch;
        some.forEach(
                one -> {
                    away.add(one.name());
                    after(
                            one.startsIn(),
                            begun,
                            () -> {
                                memory.remove(key(one, "lost"));
                                set(one, "runs", release);
                                away.remove(one.name());
                            });
                });
        return some.size();
    }

    /** Those of a kind take a release over at the machine's next start. */
    synchronized void wait(String kind, String file, String release) {
        described.stream()
                .filter(one -> one.kind().equals(kind))
                .forEach(
                        one -> {
                            set(one, "holds", release);
                            set(one, "waits-for", file);
                        });
    }

    /** The file that those of a kind take over at the next start; empty for none. */
    synchronized String waitsFor(String kind) {
        return described.stream()
                .filter(one -> one.kind().equals(kind))
                .map(one -> memory.getProperty(key(one, "waits-for"), ""))
                .findFirst()
                .orElse("");
    }

    /** The machine goes down: whatever was under way ends, and nobody is served. */
    synchronized void down() {
        epoch++;
        fetching.clear();
        described.forEach(one -> away.add(one.name()));
    }

    /**
     * The machine runs again.
     *
     * @param release what it runs
     * @param losesOne whether the last one that follows it does not come back
     * @param rules with which of them that release speaks
     */
    synchronized void up(String release, boolean losesOne, PracticeImage.Rules rules) {
        int begun = epoch;
        List<Attached> following = described.stream().filter(Attached::follows).toList();
        for (Attached one : described) {
            takeOver(one);
            boolean lost = losesOne && one.follows() && one.equals(following.getLast());
            boolean spokenWith =
                    !rules.drops().contains(one.model())
                            && !Releases.isOlder(
                                    runs(one), rules.needs().getOrDefault(one.kind(), "0"));
            if (lost || !spokenWith) {
                memory.setProperty(key(one, "lost"), "yes");
            } else if (memory.containsKey(key(one, "lost")) && one.follows()) {
                away.add(one.name());
            } else if (!one.follows() || runs(one).equals(release)) {
                memory.remove(key(one, "lost"));
                away.remove(one.name());
            } else {
                boolean holds = release.equals(memory.getProperty(key(one, "holds")));
                after(
                        holds ? one.startsIn() : one.startsIn().plus(one.fetchesIn()),
                        begun,
                        () -> {
                            set(one, "runs", release);
                            set(one, "holds", "");
                            away.remove(one.name());
                        });
            }
        }
    }

    private void takeOver(Attached one) {
        String holds = memory.getProperty(key(one, "holds"), "");
        if (!one.follows() && !holds.isEmpty()) {
            set(one, "runs", holds);
            set(one, "holds", "");
            set(one, "waits-for", "");
        }
    }

    private void after(Duration time, int begun, Runnable then) {
        TIMER.after(
                time.dividedBy(pace),
                () -> {
                    synchronized (this) {
                        if (begun == epoch) {
                            then.run();
                        }
                    }
                });
    }
}
