/** Who may hold how many connections to the database. */
@NullMarked
package calmstep.service.database;

import org.jspecify.annotations.NullMarked;
