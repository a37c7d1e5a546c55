package calmstep.core.fleet;

import java.time.ZoneId;
import java.util.List;

/**
 * A place with a time zone.
 *
 * @param contacts mail addresses of those who are told before and after something is changed there
 */
public record Site(String name, String title, ZoneId zone, List<String> contacts) {
    public Site {
        contacts = List.copyOf(contacts);
    }

    /** A place where nobody is told. */
    public Site(String name, String title, ZoneId zone) {
        this(name, title, zone, List.of());
    }
}
