package calmstep.core.step;

import java.time.Instant;

/**
 * Written down before an act.
 *
 * @param at       when
 * @param bootMark the device's mark of its last start then; tells afterwards whether it has started since
 */
public record Intent(Instant at, String bootMark) {}
