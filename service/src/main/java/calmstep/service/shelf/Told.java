package calmstep.service.shelf;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import java.io.IOException;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;

/** Which address of the shelf a device is told. */
final class Told {
    private static final int ANY_PORT = 9;

    private Told() {}

    /**
     * @param configured an address; or the one that means all of this machine's: then it is the one
     *     that the route to the device leaves by
     * @throws DeviceTrouble when there is no route
     */
    static String to(String configured, String device) {
        try {
            if (!InetAddress.getByName(configured).isAnyLocalAddress()) {
                return configured;
            }
            // Connecting a datagram socket sends nothing; it makes the system choose the route.
            try (DatagramSocket route = new DatagramSocket()) {
                route.connect(new InetSocketAddress(InetAddress.getByName(device), ANY_PORT));
                String address = route.getLocalAddress().getHostAddress();
                return address.contains(":")
                        ? "[%s]".formatted(address.replaceFirst("%.*", ""))
                        : address;
            }
        } catch (IOException noRoute) {
            throw noRoute(device, noRoute);
        }
    }

    private static DeviceTrouble noRoute(String device, IOException noRoute) {
        return new DeviceTrouble(
                DeviceTrouble.Kind.SOURCE_NOT_REACHED,
                new Trouble(
                        "a route from the shelf to %s".formatted(device),
                        String.valueOf(noRoute.getMessage()),
                        "Look at the routes of this machine, or name the address that devices"
                                + " know the shelf by: CALMSTEP_SHELF_TOLD."));
    }
}
