/**
 * What all tests share: how they wait, how much of a long sweep they take, and the account of both
 * that {@code bin/check} prints.
 *
 * <p>A test waits for something by name ({@link calmstep.check.Await}) and never for a time alone.
 * A sweep over everything (kills at every step, each fault in each family, a thousand random tasks)
 * is complete where {@code CALMSTEP_THOROUGH} is set, and {@link calmstep.check.Sweep} draws a part
 * of it else, by a seed that is printed and can be asked for again with {@code CALMSTEP_SEED}.
 */
@NullMarked
package calmstep.check;

import org.jspecify.annotations.NullMarked;
