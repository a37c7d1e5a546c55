/**
 * The contacts of a site are told by mail (SMTP, RFC 5321) before something is changed there, and
 * after: what will be dark and for how long, then what was reached.
 *
 * <p>That somebody is to be told is written down within the transaction that begins a run, or ends
 * it at the site; what is told is written when it is sent, by one node at a time, and tried again
 * in growing pauses until a server takes it.
 */
@NullMarked
package calmstep.service.mail;

import org.jspecify.annotations.NullMarked;
