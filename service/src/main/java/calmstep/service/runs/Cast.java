package calmstep.service.runs;

import calmstep.core.device.Backups;
import calmstep.core.device.ConfigurationKind;
import calmstep.core.step.Digests;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.BiFunction;

/** The stand-ins of one rehearsal. What is backed up from them is gone with them. */
final class Cast {
    private final BiFunction<String, Talk, Door> doors;
    private final Clock clock;
    private final Map<Long, InMemory> backups = new ConcurrentHashMap<>();

    /** @param doors the way to a unit's stand-in */
    Cast(BiFunction<String, Talk, Door> doors, Clock clock) {
        this.doors = doors;
        this.clock = clock;
    }

    Counterpart of(UnitRow unit) {
        return new Counterpart() {
            @Override
            public Optional<Hold> take() {
                return Optional.of(Hold.OF_A_STAND_IN);
            }

            @Override
            public Door door(Talk talk) {
                return doors.apply(unit.name, talk);
            }

            @Override
            public Backups backups() {
                return backups.computeIfAbsent(unit.id(), _ -> new InMemory());
            }

            @Override
            public Clock clock() {
                return clock;
            }

            /** The clock shows the stand-ins' time already. */
            @Override
            public int pace() {
                return 1;
            }
        };
    }

    private static final class InMemory implements Backups {
        private record Text(int hop, Kept kept, String text) {}

        private final List<Text> texts = new ArrayList<>();

        @Override
        public synchronized Kept keep(int hop, ConfigurationKind kind, String text) {
            Kept kept = new Kept(texts.size() + 1, kind, Digests.sha256(text), text.getBytes(StandardCharsets.UTF_8).length);
            texts.add(new Text(hop, kept, text));
            return kept;
        }

        @Override
        public synchronized List<Kept> kept(int hop) {
            return texts.stream().filter(t -> t.hop() == hop).map(Text::kept).toList();
        }

        @Override
        public synchronized String readBack(Kept kept) {
            return texts.stream().filter(t -> t.kept().equals(kept)).findFirst().orElseThrow().text();
        }
    }
}
