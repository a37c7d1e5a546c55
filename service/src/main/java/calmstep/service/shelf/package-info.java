/**
 * The store of verified images and the file servers in front of it. An image comes in as a stream,
 * is measured and digested on the way, and is on the shelf only when both equal what a catalogue
 * publishes; anything else goes to quarantine. The servers (HTTP, TFTP and SFTP, on ports of their
 * own, apart from the interface) are read only, know plain file names alone, and serve a file only
 * to a device for which a transfer is open. While a file goes out it is a {@link
 * calmstep.service.shelf.Copy}: it shows how far it is, and takes its turn on the link to its site.
 */
@NullMarked
package calmstep.service.shelf;

import org.jspecify.annotations.NullMarked;
