/**
 * Where catalogues and images come from besides a person's hand: a maker's download service over
 * HTTPS, or a bundle that is carried into an isolated network.
 *
 * <p>A source is asked what was published since last time; what it offers is kept, and files of it
 * are fetched when a person says so, or all that a plan lacks at once. A download that is cut goes
 * on where it ended. Nothing gets further by coming from a source: a catalogue is read and checked
 * as an imported one, an image is measured and digested by the shelf against a catalogue.
 *
 * <p>A bundle is a zip file that lists its files with their digests, and a signature (Ed25519, RFC
 * 8032) over that list. It is opened only when the signature is of a key that was trusted here by
 * name, and taken over only when every listed file is in it as listed.
 */
@NullMarked
package calmstep.service.sources;

import org.jspecify.annotations.NullMarked;
