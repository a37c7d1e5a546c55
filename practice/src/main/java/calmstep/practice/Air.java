package calmstep.practice;

import java.io.IOException;
import java.net.URI;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;

/**
 * What lies between a base and the machines that it feeds: a channel that carries one thing at a
 * time, in the small share that files may take of it.
 */
final class Air {
    private static final int BURST = 16;

    /** A machine with what came to it. */
    record Radio(Machine machine, Pieces pieces) {
        String name() {
            return machine.description().name();
        }
    }

    private final Map<String, Radio> radios = new ConcurrentHashMap<>();

    Radio join(Machine machine) {
        return radios.computeIfAbsent(
                machine.description().name(), _ -> new Radio(machine, new Pieces(machine)));
    }

    /**
     * The sending side of one base. What it sends it holds in its working memory, which a restart
     * empties.
     */
    final class Base {
        private final Machine machine;
        private String says = "idle";
        private boolean sends;
        private String held = "";
        private byte[] bytes = {};
        private int start;

        Base(Machine machine) {
            this.machine = machine;
        }

        synchronized String says() {
            return sends && start != machine.starts() ? "idle" : says;
        }

        /**
         * @return whether it begins; it does not where it is sending already
         */
        boolean toAll(URI source, String file) {
            return begin(
                    source,
                    file,
                    radios.values().stream()
                            .filter(
                                    radio ->
                                            radio.machine()
                                                    .description()
                                                    .outfit()
                                                    .fedBy()
                                                    .equals(machine.description().name()))
                            .toList(),
                    true);
        }

        /** As {@link #toAll}, to one radio, what that one misses. */
        boolean missing(URI source, String file, String radio) {
            return Optional.ofNullable(radios.get(radio))
                    .filter(
                            one ->
                                    one.machine()
                                            .description()
                                            .outfit()
                                            .fedBy()
                                            .equals(machine.description().name()))
                    .map(one -> begin(source, file, List.of(one), false))
                    .orElse(false);
        }

        private synchronized boolean begin(URI source, String file, List<Radio> to, boolean toAll) {
            if (sends && start == machine.starts()) {
                return false;
            }
            if (start != machine.starts()) {
                held = "";
            }
            start = machine.starts();
            sends = true;
            says = "fetching %s".formatted(file);
            Thread.ofVirtual()
                    .name("air-" + machine.description().name())
                    .start(() -> send(source, file, to, toAll, machine.starts()));
            return true;
        }

        private void send(URI source, String file, List<Radio> to, boolean toAll, int begun) {
            List<Machine> busy = new ArrayList<>(List.of(machine));
            to.forEach(radio -> busy.add(radio.machine()));
            busy.forEach(one -> one.copies(true));
            String end = "idle";
            try {
                byte[] all = hold(source, file);
                to.forEach(radio -> radio.pieces().listen(file));
                BitSet wanted = toAll ? all(all) : to.getFirst().pieces().missing(file, all);
                send(new Burst(file, all, to, toAll), wanted, begun);
            } catch (IOException | RuntimeException failed) {
                end = "idle, the last one failed: " + failed.getMessage();
            } finally {
                busy.forEach(one -> one.copies(false));
                end(end, begun);
            }
        }

        private synchronized void end(String words, int begun) {
            if (start == begun) {
                sends = false;
                says = words;
            }
        }

        private synchronized void says(String words, int begun) {
            if (start == begun) {
                says = words;
            }
        }

        private byte[] hold(URI source, String file) throws IOException {
            if (!held.equals(file)) {
                bytes = new Fetch(machine).bring(source);
                held = file;
            }
            return bytes;
        }

        private record Burst(String file, byte[] bytes, List<Radio> to, boolean toAll) {}

        private void send(Burst burst, BitSet wanted, int begun) throws IOException {
            List<Integer> blocks = wanted.stream().boxed().toList();
            for (int at = 0; at < blocks.size(); at += BURST) {
                sayHowFar(burst, at, blocks, begun);
                BitSet some = new BitSet();
                blocks.subList(at, Math.min(blocks.size(), at + BURST)).forEach(some::set);
                Fetch.pause(slowest(burst.to(), (long) some.cardinality() * Pieces.BLOCK));
                if (machine.power() != Machine.Power.RUNNING || machine.starts() != begun) {
                    throw new IOException("it went down");
                }
                hear(burst, some);
            }
        }

        private static void hear(Burst burst, BitSet some) {
            burst.to()
                    .forEach(
                            radio ->
                                    radio.pieces()
                                            .hear(
                                                    burst.file(),
                                                    burst.bytes(),
                                                    some,
                                                    burst.toAll()));
        }

        private void sayHowFar(Burst burst, int at, List<Integer> blocks, int begun) {
            says(
                    "%s to %s, %s of %s blocks"
                            .formatted(
                                    burst.file(),
                                    burst.toAll() ? "all" : burst.to().getFirst().name(),
                                    at,
                                    blocks.size()),
                    begun);
        }

        private static long slowest(Collection<Radio> to, long bytes) {
            return to.stream()
                    .mapToLong(radio -> radio.machine().copyTime(bytes).toNanos())
                    .max()
                    .orElse(0);
        }

        private static BitSet all(byte[] bytes) {
            return IntStream.range(0, Pieces.blocks(bytes))
                    .collect(BitSet::new, BitSet::set, BitSet::or);
        }
    }
}
