/**
 * Records: the finished account of a run, made in the transaction that finishes it, only ever
 * added; as JSON and as a page.
 */
@NullMarked
package calmstep.service.records;

import org.jspecify.annotations.NullMarked;
