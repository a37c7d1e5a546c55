/**
 * Rehearsals: a plan played against stand-ins before its night.
 *
 * <p>{@link calmstep.service.rehearsals.StandIns} makes a stand-in of each device from its newest reading and its newest backup; nothing is asked of the device
 * itself. The engine of {@link calmstep.service.runs} plays the plan against them, night after night, faster than by day. What came out stays with the plan:
 * planned against played, step by step, and the trouble that was met. Times are told by the stand-ins' clocks: what a device takes is stretched by the pace again,
 * our own work beside it is not. A rehearsal belongs to the process that plays it and dies with it; no device is touched either way.
 */
@NullMarked
package calmstep.service.rehearsals;

import org.jspecify.annotations.NullMarked;
