/**
 * Runs and the engine that carries them out.
 *
 * <p>One execution of the scheduler (clustered, on our PostgreSQL; it finds dead nodes and revives
 * their work) takes one unit further, step by step while one follows the other at once, and
 * schedules itself again: now, at a time, or in an hour where only a person's word helps, which
 * wakes it at once. What is to be done is decided by {@link calmstep.core.step.UnitMachine} from
 * the rows; how, by {@link calmstep.core.step.StepRunner}. The rows are written before and after
 * device talk, in short transactions; none spans it. A lease with a fencing number on the device
 * keeps drivers apart: an older driver that wakes up late finds that it may write nothing more, and
 * so acts no more.
 *
 * <p>A unit keeps to its plan's nights: each part of its path has a {@link
 * calmstep.core.step.Turn}, and {@link calmstep.core.step.Neighbours} say beside whom it is never
 * in work. In a rehearsal the same driver works against stand-ins ({@link
 * calmstep.service.runs.Rehearsing}), on one process, by a clock that shows the plan's time.
 */
@NullMarked
package calmstep.service.runs;

import org.jspecify.annotations.NullMarked;
