/**
 * Rehearsals: a plan played against stand-ins before its night.
 *
 * <p>{@link calmstep.service.rehearsals.StandIns} makes a stand-in of each device from its newest
 * reading and its newest backup; nothing is asked of the device itself. The engine of {@link
 * calmstep.service.runs} plays the plan against them, night after night, faster than by day. What
 * came out stays with the plan: planned against played, step by step, and the trouble that was met.
 * Times are those of the plan, by a clock that runs as the stand-ins' do while one of them copies
 * or starts, as ours does while we work, and leaps where everybody waits. A rehearsal belongs to
 * the process that plays it and dies with it; no device is touched either way.
 */
@NullMarked
package calmstep.service.rehearsals;

import org.jspecify.annotations.NullMarked;
