/**
 * Finding devices that nobody wrote down. A range says which addresses may be touched, how fast,
 * and what is asked there: the SSH greeting, which needs no login, and SNMP where the range names a
 * login for it. What answers is a candidate; the dialects say of which family it is. A person
 * accepts a candidate into the inventory, through the same checks as an imported file, or drops it;
 * a dropped one stays dropped in later searches. A search that is cancelled keeps what it found.
 */
@NullMarked
package calmstep.service.discovery;

import org.jspecify.annotations.NullMarked;
