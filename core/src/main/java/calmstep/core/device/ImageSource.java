package calmstep.core.device;

import java.io.InputStream;
import java.net.URI;

/** The shelf as a device sees it. */
public interface ImageSource {
    /** Opens a file for one device and gives the address at which that device can pull it. */
    URI open(String fileName, String deviceAddress);

    /** Opens a file that is sent to one device. */
    InputStream read(String fileName, String deviceAddress);
}
