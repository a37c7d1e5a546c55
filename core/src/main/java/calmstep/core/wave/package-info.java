/**
 * Waves over sites and windows: which part of which unit's path is done in which night, and when.
 *
 * <p>A {@link calmstep.core.wave.WaveUnit}'s path is cut into {@link calmstep.core.wave.Chunk}s
 * where it may rest; each needs one uninterrupted stretch in one window of its site. Parts of a
 * unit go in order. Limits hold over all, per site and per family, and for the sites of a kind in
 * one night. The first units of each likeness (model, role and path) are pilots; part n of the
 * others waits for part n of the pilots and the soak. What a unit cuts off is never in work
 * together with it, and in one night it goes first (far edge first). Members of a redundancy group
 * are never in work together. Images are brought over a site's link one after the other, in the
 * order of placing, before their part begins.
 *
 * <p>The aim, in this order: all units placed, fewest nights, earliest end, fewest nights a site is
 * disturbed. {@link calmstep.core.wave.WaveSearch} is a serial list schedule (each part at the
 * first place that holds every rule) under a priority order, repaired by trying other orders and by
 * closing nights that little is done in; the number of tries depends on the size alone, so the same
 * task gives the same schedule. For a regular aim some order gives an optimum (active schedules;
 * Sprecher, Kolisch and Drexl 1995); ours is not quite regular (a night may be spent on a site's
 * kind, what lies nearer may come too soon), so a part may also be held back. Small tasks are tried
 * harder: every choice of few nights that the bounds leave possible gets some tries, the promising
 * ones more and more of them (successive halving), each with late acceptance, and begun anew with
 * other pilots. {@link calmstep.core.wave.LowerBound} says how far away the best can be at most.
 *
 * <p>Everything is counted in whole minutes from the beginning of the task: people do not start
 * anything at 02:13:20.
 */
@NullMarked
package calmstep.core.wave;

import org.jspecify.annotations.NullMarked;
