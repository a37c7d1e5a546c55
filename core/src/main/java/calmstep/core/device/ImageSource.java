package calmstep.core.device;

import java.net.URI;

/** The shelf as a device sees it. */
public interface ImageSource {
    /** Opens a file for one device and gives the address at which that device can pull it. */
    URI open(String fileName, String deviceAddress);

    /** As {@link #open}, over TFTP: what boot loaders speak. */
    URI openForLoader(String fileName, String deviceAddress);

    /** Opens a file that is sent to one device. */
    Opened read(String fileName, String deviceAddress);

    /** A file, read from its beginning. */
    interface Opened extends AutoCloseable {
        /**
         * The next bytes; as many as there is room for, or fewer. @return how many; negative behind
         * the last one
         */
        int next(byte[] room);

        @Override
        void close();
    }
}
