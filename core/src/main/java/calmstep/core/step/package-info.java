/**
 * The steps of a unit: look, act, prove.
 *
 * <p><b>look</b> asks the device whether the step is needed, already true or impossible; <b>act</b>
 * does it; <b>prove</b> asks again and compares. {@link calmstep.core.step.StepRunner} plays the
 * three and writes the intent down before the act, so that a step can be repeated after a crash: it
 * looks first. {@link calmstep.core.step.UnitMachine} is the pure state machine over the steps of a
 * unit: from the plan and what is recorded it gives the next thing to do, a gate, or stuck.
 */
@NullMarked
package calmstep.core.step;

import org.jspecify.annotations.NullMarked;
