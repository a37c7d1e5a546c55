package calmstep.core.device;

import java.net.URI;
import java.util.Optional;

/**
 * A device that stands in its boot loader, over its console line. Every method may throw {@link
 * DeviceTrouble}. Not for several threads.
 */
public interface LoaderSession extends AutoCloseable {
    /**
     * Has it bring an image into its working memory; nothing that it keeps is touched.
     *
     * @return the digest that it computes of what came; empty where its loader cannot tell
     */
    Optional<String> load(URI source);

    /** Starts what was loaded; returns when it has taken the order. */
    void startLoaded();

    @Override
    void close();
}
