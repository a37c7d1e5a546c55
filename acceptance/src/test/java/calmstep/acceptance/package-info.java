/**
 * Journeys over the real processes: service, client, browser, practice fleet and PostgreSQL, on
 * ports and addresses of their own.
 */
@NullMarked
package calmstep.acceptance;

import org.jspecify.annotations.NullMarked;
