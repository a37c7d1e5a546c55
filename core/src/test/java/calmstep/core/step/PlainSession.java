package calmstep.core.step;

import calmstep.core.device.BackupKind;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.ImageSource;
import java.net.URI;
import java.util.List;
import java.util.Optional;

/**
 * A device that fetches its files itself, has no dependents, and is never written a configuration
 * into.
 */
interface PlainSession extends DeviceSession {
    @Override
    default boolean takesPush() {
        return false;
    }

    @Override
    default List<BackupKind> kinds() {
        return List.of(BackupKind.RUNNING, BackupKind.STARTUP);
    }

    @Override
    default Optional<String> fetching() {
        return Optional.empty();
    }

    @Override
    default void awaitFetch(String fileName) {
        throw new AssertionError("nothing is under way");
    }

    @Override
    default boolean takeFrom(String medium, String fileName) {
        throw new AssertionError("nothing is plugged in");
    }

    @Override
    default Channel channel() {
        throw new AssertionError("it feeds nobody");
    }

    @Override
    default void sendToAll(URI source, String fileName) {
        throw new AssertionError("it feeds nobody");
    }

    @Override
    default void sendMissing(URI source, String fileName, String receiver) {
        throw new AssertionError("it feeds nobody");
    }

    @Override
    default Optional<Long> missingOf(String fileName) {
        throw new AssertionError("nobody feeds it");
    }

    @Override
    default void push(String fileName, ImageSource.Opened file, long sizeBytes) {
        throw new AssertionError("it fetches files itself");
    }

    @Override
    default void putBack(BackupKind kind, String text) {
        throw new AssertionError("its configuration was never wiped");
    }

    @Override
    default void preLoad(String fileName) {
        throw new AssertionError("it has no dependents");
    }

    @Override
    default Optional<String> whyNotPreLoaded(String fileName) {
        throw new AssertionError("it has no dependents");
    }
}
