/**
 * What proves a record to somebody who trusts nobody: the chain of a run's events, and the manifest
 * of an archive.
 *
 * <p>The hash of an event is the SHA-256 (FIPS 180-4) of the hash before it and of what it tells,
 * so whoever alters, drops or puts in one event has to write every hash behind it anew, and the
 * last one is another one. That last hash is what is to be written down elsewhere: without it, a
 * chain that was made anew as a whole cannot be told from the first one.
 */
@NullMarked
package calmstep.core.evidence;

import org.jspecify.annotations.NullMarked;
