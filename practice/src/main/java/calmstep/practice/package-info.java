/**
 * Stand-in devices, to practise on.
 *
 * <p>A {@link calmstep.practice.Machine} is a small machine: storage with real bytes, a running and
 * a startup configuration, a saved boot choice, a boot loader, a count of its starts and a clock
 * that runs faster than ours by the fleet's pace. It speaks SSH on a loopback address of its own,
 * shows its boot loader on a console line, and pulls images itself over HTTP or TFTP. What boots is
 * decided by the bytes on its storage and the choice that was saved, by rules that stand in the
 * image's header and in {@link calmstep.practice.BootLoader} alone; nothing of the planner is used
 * here. {@link calmstep.practice.Fault}s make it misbehave.
 */
@NullMarked
package calmstep.practice;

import org.jspecify.annotations.NullMarked;
