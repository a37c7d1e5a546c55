package calmstep.core.window;

/**
 * The link that transfers to a site come over.
 *
 * @param name sites whose link has the same name share it, such as the vessels behind one radio
 *     base
 * @param bytesPerSecond what all transfers over it together may take
 */
public record SiteLink(String name, long bytesPerSecond) {}
