/**
 * What the makers published: releases, images and the rules by which a device may move from one release to another.
 *
 * <p>The state of a device is the release of each of its components. A {@link calmstep.core.catalogue.Release} belongs to one
 * component and may bring others along in the same file. A {@link calmstep.core.catalogue.MovementRule} guards moves: it names the
 * releases that it speaks of, and one {@link calmstep.core.catalogue.Guard} that must hold. What is not guarded is allowed upwards;
 * downwards only what a rule opens. An {@link calmstep.core.catalogue.Effect} says what a move costs: restarts, dark time, what
 * becomes of the configuration.
 */
@NullMarked
package calmstep.core.catalogue;

import org.jspecify.annotations.NullMarked;
