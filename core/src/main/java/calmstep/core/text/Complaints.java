package calmstep.core.text;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/** Collects what is wrong while a text is read. */
public final class Complaints {
    private final List<Complaint> found = new ArrayList<>();
    private final List<Complaint> bySchema = new ArrayList<>();

    public void add(Spot spot, String sentence) {
        found.add(new Complaint(spot, sentence));
    }

    /**
     * What the format's schema refuses. Where the reader complains of the same line in better
     * words, those are told.
     */
    void bySchema(List<Complaint> complaints) {
        bySchema.addAll(complaints);
    }

    /**
     * @throws RejectedText when anything was found
     */
    public void throwIfAny() {
        Set<Integer> told = found.stream().map(c -> c.spot().line()).collect(Collectors.toSet());
        bySchema.stream().filter(c -> !told.contains(c.spot().line())).forEach(found::add);
        if (!found.isEmpty()) {
            found.sort(
                    Comparator.comparingInt((Complaint c) -> c.spot().line())
                            .thenComparingInt(c -> c.spot().column()));
            throw new RejectedText(found);
        }
    }
}
