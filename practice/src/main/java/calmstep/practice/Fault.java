package calmstep.practice;

import java.util.Locale;

/** How a stand-in can misbehave. */
public enum Fault {
    /** The next copy has one wrong byte; the one after it is good. */
    DAMAGES_NEXT_COPY,
    /** Every copy has one wrong byte. */
    DAMAGES_COPIES,
    /** The next copy ends in the middle. */
    CUTS_NEXT_COPY,
    /** Its network does not let it reach any source. */
    REACHES_NOTHING,
    /** Asks something on restart that nobody foresaw. */
    ASKS_SOMETHING_NEW,
    /** Stops in its boot loader at the next start. */
    STOPS_IN_BOOT_LOADER,
    /** Starts the fallback image at the next start. */
    STARTS_THE_OLD_IMAGE,
    /** Says that it keeps the boot choice, and does not. */
    FORGETS_THE_CHOICE,
    /** Does not come back from the next start. */
    STAYS_SILENT,
    /** One of its links stays down after the next start. */
    LOSES_A_LINK;

    static Fault parse(String text) {
        return valueOf(text.replace('-', '_').toUpperCase(Locale.ROOT));
    }
}
