package calmstep.service.runs;

/** A device held for one driver while a step is carried out. Closing gives it back. */
interface Hold extends AutoCloseable {
    /**
     * Within a transaction, before its other writes: they commit only while this driver holds the
     * device.
     *
     * @throws LeaseLost when another one does
     */
    void mustHold();

    @Override
    default void close() {}
}
