/**
 * How a family of devices is spoken to, described in a text.
 *
 * <p>A {@link calmstep.dialect.Dialect} is read from a YAML file by {@link
 * calmstep.dialect.DialectText}: what the prompt looks like, how the pager is answered, which lines
 * mean an error, which commands give which facts, and for each act the commands, the questions that
 * may come and their answers. {@link calmstep.dialect.Exchange} plays one command over a {@link
 * calmstep.dialect.Line}; {@link calmstep.dialect.Doors} leads to a device: over what its dialect
 * says, by the logins that it has, through the hosts that stand in between. {@link
 * calmstep.dialect.DialectSession} makes a {@link calmstep.core.device.DeviceSession} of it. No
 * command of any device stands in Java code. What is typed and answered goes to a {@link
 * calmstep.dialect.Talk}, with secrets masked before it is handed over.
 */
@NullMarked
package calmstep.dialect;

import org.jspecify.annotations.NullMarked;
