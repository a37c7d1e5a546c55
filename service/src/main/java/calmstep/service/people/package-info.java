/** Who may do what: local people with a role, signed in by a console session or a token. */
@NullMarked
package calmstep.service.people;

import org.jspecify.annotations.NullMarked;
