package calmstep.practice;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.io.UncheckedIOException;
import java.util.Base64;
import java.util.BitSet;
import java.util.HashSet;
import java.util.Set;
import java.util.SplittableRandom;

/**
 * What a machine has of files that are sent to it in blocks. Which blocks it has stands in its
 * memory, so that a restart in the middle costs those alone that went by meanwhile. Of what is sent
 * to all it misses some; what is sent to it alone it acknowledges.
 */
final class Pieces {
    static final String NOTE = "pieces.";
    static final int BLOCK = 1024;

    /** Of so many blocks that go by, about one is not heard. */
    private static final int MISSES_ONE_IN = 20;

    private static final String NO_ROOM = "no room for it";

    private final Machine machine;
    private final Set<String> deaf = new HashSet<>();

    Pieces(Machine machine) {
        this.machine = machine;
    }

    /** What it says of a file. */
    synchronized String of(String file) {
        String note = machine.note(NOTE + file).orElse("");
        if (note.isEmpty() || note.equals(NO_ROOM)) {
            return note.isEmpty() ? "nothing" : NO_ROOM;
        }
        int blocks = Integer.parseInt(note.split(" ")[0]);
        return "%s of %s blocks missing".formatted(blocks - heard(note).cardinality(), blocks);
    }

    private static BitSet heard(String note) {
        String[] words = note.split(" ");
        return words.length < 2
                ? new BitSet()
                : BitSet.valueOf(Base64.getDecoder().decode(words[1]));
    }

    /** Numbers of the blocks that it misses; of a file of which nothing came, all. */
    synchronized BitSet missing(String file, byte[] bytes) {
        BitSet missing = new BitSet();
        missing.set(0, blocks(bytes));
        String note = machine.note(NOTE + file).orElse("");
        missing.andNot(note.equals(NO_ROOM) ? new BitSet() : heard(note));
        return missing;
    }

    static int blocks(byte[] bytes) {
        return (bytes.length + BLOCK - 1) / BLOCK;
    }

    /** Its ears are open again: a fault lasts for one sending. */
    synchronized void listen(String file) {
        deaf.remove(file);
    }

    /**
     * Takes some blocks that go by.
     *
     * @param bytes the whole file
     * @param some numbers of the blocks
     * @param toAll whether nobody repeats what it misses
     */
    synchronized void hear(String file, byte[] bytes, BitSet some, boolean toAll) {
        if (machine.power() != Machine.Power.RUNNING
                || machine.has(Fault.REACHES_NOTHING)
                || deaf.contains(file)) {
            return;
        }
        try {
            String note = machine.note(NOTE + file).orElse("");
            if (note.equals(NO_ROOM)
                    || (note.isEmpty()
                            && machine.flash().freeBytes()
                                            + machine.flash().files().getOrDefault(file, 0L)
                                    < bytes.length)) {
                machine.note(NOTE + file, NO_ROOM);
                return;
            }
            BitSet heard = heard(note);
            BitSet wanted = (BitSet) some.clone();
            wanted.andNot(heard);
            if (toAll) {
                some.stream().filter(block -> isLost(file, block)).forEach(wanted::clear);
            }
            write(file, bytes, wanted);
            heard.or(wanted);
            machine.note(
                    NOTE + file,
                    blocks(bytes) + " " + Base64.getEncoder().encodeToString(heard.toByteArray()));
            strike(file, heard.cardinality() * 2 > blocks(bytes));
            if (heard.cardinality() == blocks(bytes) && !wanted.isEmpty()) {
                new Fetch(machine).damage(file);
            }
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    private void write(String file, byte[] bytes, BitSet wanted) throws IOException {
        try (RandomAccessFile storage =
                new RandomAccessFile(machine.flash().file(file).toFile(), "rw")) {
            storage.setLength(bytes.length);
            for (int block = wanted.nextSetBit(0);
                    block >= 0;
                    block = wanted.nextSetBit(block + 1)) {
                storage.seek((long) block * BLOCK);
                storage.write(bytes, block * BLOCK, Math.min(BLOCK, bytes.length - block * BLOCK));
            }
        }
    }

    private boolean isLost(String file, int block) {
        return new SplittableRandom((machine.description().name() + file).hashCode() * 31L + block)
                        .nextInt(MISSES_ONE_IN)
                == 0;
    }

    private void strike(String file, boolean halfWay) {
        if (!halfWay) {
            return;
        }
        if (machine.takeOnce(Fault.CUTS_NEXT_COPY)) {
            deaf.add(file);
        }
        if (machine.takeOnce(Fault.RUNS_OUT_OF_ROOM)) {
            machine.note(NOTE + file, NO_ROOM);
        }
        if (machine.takeOnce(Fault.RESTARTS_IN_A_COPY)) {
            machine.powerCycle();
        }
    }
}
