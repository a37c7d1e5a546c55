package calmstep.dialect;

/**
 * Host keys of jump hosts and console servers, by {@code host:port}: learnt at the first meeting,
 * then believed alone.
 */
public interface StopKeys {
    /** Believes whoever is there: for stand-ins and tests. */
    StopKeys NONE =
            new StopKeys() {
                @Override
                public String known(String place) {
                    return "";
                }

                @Override
                public void seen(String place, String fingerprint) {}
            };

    /** The fingerprint that was seen first; empty before that. */
    String known(String place);

    void seen(String place, String fingerprint);
}
