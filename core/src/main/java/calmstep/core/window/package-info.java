/**
 * When a site may be disturbed, and how much at once. A {@link calmstep.core.window.WindowRule}
 * says on which days (a recurrence of RFC 5545, or one date) and between which local times; {@link
 * calmstep.core.window.Freeze}s take time away again; {@link calmstep.core.window.NightRules} holds
 * all of them with the limits and gives a site's concrete {@link calmstep.core.window.Window}s.
 *
 * <p>Local times become instants at the edge only, by RFC 5545, section 3.3.5: a time that does not
 * occur because clocks go forward is read with the offset before the gap, one that occurs twice is
 * the first of both. So a window from 01:15 to 04:30 is an hour shorter in one night of the year
 * and an hour longer in another.
 */
@NullMarked
package calmstep.core.window;

import org.jspecify.annotations.NullMarked;
