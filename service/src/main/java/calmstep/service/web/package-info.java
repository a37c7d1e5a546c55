/**
 * Serves the console: hashed assets for a year, its page never stored, with a content-security
 * policy of its own each time.
 */
@NullMarked
package calmstep.service.web;

import org.jspecify.annotations.NullMarked;
