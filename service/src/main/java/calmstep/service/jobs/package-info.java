/**
 * Long work that can be followed and cancelled: a fleet that is read, a range that is searched,
 * images that are fetched. The work itself lives where its matter is; here is how far it is. A job
 * whose process ended in the middle is told as lost when nothing was heard of it for a while.
 */
@NullMarked
package calmstep.service.jobs;

import org.jspecify.annotations.NullMarked;
