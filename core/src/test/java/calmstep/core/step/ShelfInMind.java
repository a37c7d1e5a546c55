package calmstep.core.step;

import calmstep.core.device.ImageSource;
import java.net.URI;

/** A shelf that devices are told of and that nothing is read from. */
final class ShelfInMind implements ImageSource {
    @Override
    public URI open(String fileName, String deviceAddress) {
        return URI.create("http://shelf/" + fileName);
    }

    @Override
    public URI openForLoader(String fileName, String deviceAddress) {
        return URI.create("tftp://shelf/" + fileName);
    }

    @Override
    public Opened read(String fileName, String deviceAddress) {
        throw new AssertionError("devices fetch from here");
    }
}
