/**
 * What the makers published: releases, images and the rules by which a device may move from one
 * release to another.
 *
 * <p>The state of a device is the release of each of its components. A {@link
 * calmstep.core.catalogue.Release} belongs to one component and may bring others along in the same
 * file. A {@link calmstep.core.catalogue.MovementRule} guards moves: it names the releases that it
 * speaks of, and one {@link calmstep.core.catalogue.Guard} that must hold. Up within a software
 * line is open unless guarded; down, and to another line, is shut unless a rule that opens that way
 * holds. An {@link calmstep.core.catalogue.Effect} says what a move costs: restarts, dark time,
 * what becomes of the configuration, what is lost. {@link calmstep.core.catalogue.CatalogueText}
 * reads a file line by line, {@link calmstep.core.catalogue.CatalogueCheck} judges it as a whole.
 */
@NullMarked
package calmstep.core.catalogue;

import org.jspecify.annotations.NullMarked;
