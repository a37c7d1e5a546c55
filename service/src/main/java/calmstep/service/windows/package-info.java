/**
 * When sites may be disturbed, and how much at once: windows files as they were imported, the
 * newest of which holds, and a site's concrete windows.
 */
@NullMarked
package calmstep.service.windows;

import org.jspecify.annotations.NullMarked;
