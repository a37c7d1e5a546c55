package calmstep.service.runs;

import calmstep.core.device.BackupKind;
import calmstep.core.device.Backups;
import calmstep.core.step.Digests;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** The stand-ins of one rehearsal. What is backed up from them is gone with them. */
final class Cast {
    private final Rehearsing.StandIns standIns;
    private final Clock clock;
    private final Set<String> held = ConcurrentHashMap.newKeySet();
    private final Map<Long, InMemory> backups = new ConcurrentHashMap<>();

    Cast(Rehearsing.StandIns standIns, Clock clock) {
        this.standIns = standIns;
        this.clock = clock;
    }

    Counterpart of(UnitRow unit) {
        return new Counterpart() {
            @Override
            public Optional<Hold> take(String device) {
                return held.add(device) ? Optional.of(new OfAStandIn(device)) : Optional.empty();
            }

            @Override
            public Door door(String device, Talk talk) {
                return standIns.doors().apply(device, talk);
            }

            @Override
            public String address(String device) {
                return standIns.addresses().apply(device);
            }

            @Override
            public Backups backups() {
                return backups.computeIfAbsent(unit.id(), _ -> new InMemory());
            }

            @Override
            public Clock clock() {
                return clock;
            }

            // The clock shows the stand-ins' time already.
            @Override
            public int pace() {
                return 1;
            }
        };
    }

    /** Only this process drives stand-ins. */
    private final class OfAStandIn implements Hold {
        private final String device;

        OfAStandIn(String device) {
            this.device = device;
        }

        @Override
        public void mustHold() {
            if (!held.contains(device)) {
                throw new LeaseLost(device, 0);
            }
        }

        @Override
        public void close() {
            held.remove(device);
        }
    }

    private static final class InMemory implements Backups {
        private record Text(int hop, Kept kept, String text) {}

        private final List<Text> texts = new ArrayList<>();

        @Override
        public synchronized Kept keep(int hop, BackupKind kind, String text) {
            Kept kept =
                    new Kept(
                            texts.size() + 1,
                            kind,
                            Digests.sha256(text),
                            text.getBytes(StandardCharsets.UTF_8).length);
            texts.add(new Text(hop, kept, text));
            return kept;
        }

        @Override
        public synchronized List<Kept> kept(int hop) {
            return texts.stream().filter(t -> t.hop() == hop).map(Text::kept).toList();
        }

        @Override
        public synchronized String readBack(Kept kept) {
            return texts.stream()
                    .filter(t -> t.kept().equals(kept))
                    .findFirst()
                    .orElseThrow()
                    .text();
        }
    }
}
