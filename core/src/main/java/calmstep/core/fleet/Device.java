package calmstep.core.fleet;

import calmstep.core.catalogue.Hardware;
import java.util.Map;

/**
 * One managed box, as the inventory describes it.
 *
 * @param address     IPv4 or IPv6 address
 * @param port        of its command line
 * @param consolePort of its console line, 0 where it has none that we reach
 * @param login       name of the credentials that open it
 * @param entitled    whether support entitlement covers it
 * @param runs        releases by component as somebody wrote them down, for work without a reading; may be empty
 * @param serves      what stands behind it, in users' words; empty where nobody wrote it down
 */
public record Device(
        String name,
        String family,
        Hardware hardware,
        String serial,
        String site,
        String role,
        String address,
        int port,
        int consolePort,
        String login,
        boolean entitled,
        Map<String, String> runs,
        String serves) {
    public Device {
        runs = Map.copyOf(runs);
    }
}
