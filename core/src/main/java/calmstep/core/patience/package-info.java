/** How long to wait before something is tried again: devices, mail servers and webhooks alike. */
@NullMarked
package calmstep.core.patience;

import org.jspecify.annotations.NullMarked;
