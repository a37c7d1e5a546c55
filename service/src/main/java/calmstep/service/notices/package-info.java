/**
 * Notices to other systems: by webhook (a POST of JSON, signed where a secret is agreed upon) or by
 * syslog (RFC 5424 over UDP, RFC 5426, or TCP with octet counting, RFC 6587).
 *
 * <p>A target is a reader of the events, as a console is: it keeps the number of the last event
 * that it was told, and one node at a time tells it the next ones in their order. A webhook that
 * does not take one is tried again, in growing pauses, and nothing is skipped; since it may have
 * taken one whose answer was lost, each carries its number to be known by. Over UDP nobody learns
 * whether anything came.
 */
@NullMarked
package calmstep.service.notices;

import org.jspecify.annotations.NullMarked;
