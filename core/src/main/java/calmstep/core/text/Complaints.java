package calmstep.core.text;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/** Collects what is wrong while a text is read. */
public final class Complaints {
    private final List<Complaint> found = new ArrayList<>();

    public void add(Spot spot, String sentence) {
        found.add(new Complaint(spot, sentence));
    }

    /** @throws RejectedText when anything was found */
    public void throwIfAny() {
        if (!found.isEmpty()) {
            found.sort(Comparator.comparingInt((Complaint c) -> c.spot().line()).thenComparingInt(c -> c.spot().column()));
            throw new RejectedText(found);
        }
    }
}
