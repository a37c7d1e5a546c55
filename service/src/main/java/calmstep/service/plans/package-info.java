/**
 * Plans: drafted from readings and catalogues by the core, acknowledged and approved by people,
 * used once by a run.
 */
@NullMarked
package calmstep.service.plans;

import org.jspecify.annotations.NullMarked;
