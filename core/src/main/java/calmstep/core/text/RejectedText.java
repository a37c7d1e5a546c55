package calmstep.core.text;

import java.util.List;
import java.util.stream.Collectors;

/**
 * A text was refused as a whole; holds every complaint, in the order of the text. Nothing of the
 * text was taken over.
 */
public final class RejectedText extends RuntimeException {
    private final transient List<Complaint> complaints;

    public RejectedText(List<Complaint> complaints) {
        super(complaints.stream().map(Complaint::toString).collect(Collectors.joining("\n")));
        this.complaints = List.copyOf(complaints);
    }

    public List<Complaint> complaints() {
        return complaints;
    }
}
