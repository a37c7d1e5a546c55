package calmstep.dialect;

import java.time.Duration;
import java.time.Instant;
import java.util.List;

/**
 * Keeps count of which logins one device let in and refused, so that it is not locked by our own
 * tries.
 */
public interface SignIns {
    /** Counts nothing: for stand-ins, which nobody can be locked out of. */
    SignIns UNCOUNTED =
            new SignIns() {
                @Override
                public List<Instant> refusals() {
                    return List.of();
                }

                @Override
                public void refused(String login) {}

                @Override
                public void letIn(String login) {}
            };

    /**
     * When the device refused somebody of ours, the latest last; what is long ago may be left out.
     */
    List<Instant> refusals();

    void refused(String login);

    void letIn(String login);

    /**
     * When a family locks a user out.
     *
     * @param after as many refusals
     * @param within a time; as long as that it stays locked
     */
    record LockOut(int after, Duration within) {
        /** What is kept to with a family that does not say. */
        public static final LockOut USUAL = new LockOut(5, Duration.ofMinutes(10));

        /** How many refusals are left before the one that would lock us out. */
        int left(List<Instant> refusals, Instant now) {
            return after
                    - 1
                    - (int) refusals.stream().filter(at -> at.isAfter(now.minus(within))).count();
        }

        /** When one more refusal would not lock us out; it is asked for where none is left. */
        Instant free(List<Instant> refusals) {
            return refusals.get(refusals.size() - Math.max(1, after - 1)).plus(within);
        }
    }
}
