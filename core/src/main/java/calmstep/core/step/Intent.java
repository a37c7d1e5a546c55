package calmstep.core.step;

import java.time.Instant;

/**
 * Written down before an act.
 *
 * @param at when
 * @param mark tells a later look whether the act has happened: of a restart the device's mark of
 *     its last start before it; empty for acts that may be repeated
 */
public record Intent(Instant at, String mark) {}
