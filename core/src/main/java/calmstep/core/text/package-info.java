/**
 * Texts that people write for us, read with the place of every word.
 *
 * <p>All our formats are YAML 1.2 (JSON is a subset of it). A reader walks a {@link
 * calmstep.core.text.Section}, asks for the keys that it knows and closes the section; what nobody
 * asked for is a complaint with the nearest known key. Complaints are collected: a text is refused
 * once, with everything that is wrong in it, each at its file, line and column.
 */
@NullMarked
package calmstep.core.text;

import org.jspecify.annotations.NullMarked;
