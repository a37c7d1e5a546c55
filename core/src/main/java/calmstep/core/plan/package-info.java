/**
 * Drafting a plan: for each device the path to the target, the steps, and everything that a person
 * should know first.
 *
 * <p>A {@link calmstep.core.plan.Concern} is the fact; {@link calmstep.core.plan.Finding} is the
 * fact in words, with its severity and the choices that a person has. A stop bars the plan, a
 * caution must be acknowledged with one of its choices, a note informs.
 */
@NullMarked
package calmstep.core.plan;

import org.jspecify.annotations.NullMarked;
