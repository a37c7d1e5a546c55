package calmstep.core.fleet;

import java.time.ZoneId;

/** A place with a time zone. */
public record Site(String name, String title, ZoneId zone) {}
