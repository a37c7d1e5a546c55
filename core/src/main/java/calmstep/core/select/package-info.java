/**
 * The language in which devices are selected: {@code family:osmer site:dunmere,eskholm runs:<2.8
 * not tag:spare ferry}. A selection is a list of terms that must all hold; a term is {@code
 * field:value} with alternatives behind commas and {@code *} for any run of letters, a range of
 * versions for {@code runs} and {@code wanted}, or a bare word that is looked for in every text.
 * {@code not} before a term turns it round. Pure text in, answers out; what a device shows is
 * handed in as {@link calmstep.core.select.Shown}.
 */
@NullMarked
package calmstep.core.select;

import org.jspecify.annotations.NullMarked;
