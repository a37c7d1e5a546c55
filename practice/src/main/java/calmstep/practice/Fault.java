package calmstep.practice;

import java.util.Arrays;
import java.util.Locale;

/** How a stand-in can misbehave. */
public enum Fault {
    /** The next copy has one wrong byte; the one after it is good. */
    DAMAGES_NEXT_COPY("the next copy has one wrong byte"),
    /** Every copy has one wrong byte. */
    DAMAGES_COPIES("every copy has one wrong byte"),
    /** The next copy ends before its end. */
    CUTS_NEXT_COPY("the next copy ends half-way, or where somebody says"),
    /** Copies take ten times as long. */
    SLOW_LINK("copies take ten times as long"),
    /** Its network does not let it reach any source. */
    REACHES_NOTHING("it reaches no source of images"),
    /** Asks something on restart that nobody foresaw. */
    ASKS_SOMETHING_NEW("it asks something on restart that nobody foresaw"),
    /** Stops in its boot loader at the next start. */
    STOPS_IN_BOOT_LOADER("it stops in its boot loader at the next start"),
    /** Starts the fallback image at the next start. */
    STARTS_THE_OLD_IMAGE("it starts its fallback image at the next start"),
    /** Says that it keeps the boot choice, and does not. */
    FORGETS_THE_CHOICE("it says that it keeps the boot choice, and does not"),
    /** Does not come back from the next start. */
    STAYS_SILENT("it does not come back from the next start"),
    /** Takes three times as long to start, each time. */
    STARTS_SLOWLY("it takes three times as long to start"),
    /** One of its links stays down after the next start. */
    LOSES_A_LINK("one of its links stays down after the next start"),
    /** Its last member does not come back from its next start. */
    DOES_NOT_REJOIN("one of its members does not rejoin after its next start"),
    /** What backs it is out of sync with it. */
    PARTNER_OUT_OF_SYNC("its partner is out of sync"),
    /** One of its licences is gone after the next start. */
    LOSES_A_LICENCE("one of its licences is gone after the next start"),
    /** One of its dependents does not come back after the next start. */
    LOSES_A_DEPENDENT("one of its dependents does not come back after the next start"),
    /** The next start writes one line of its configuration another way. */
    REWRITES_A_LINE("the next start writes one line of its configuration another way"),
    /** It complains of a line of its settings at the next start, on its console line alone. */
    COMPLAINS_AT_ITS_START("its next start complains of a line, on its console line alone"),
    /** One of its power feeds is out. */
    LOSES_A_FEED("one of its two power feeds is out, where it has two"),
    /** Where it is drained, one flow stays on it for good. */
    KEEPS_A_FLOW("where it is drained, one flow stays on it for good"),
    /** It goes down in the middle of the next copy and comes back. */
    RESTARTS_IN_A_COPY("it goes down in the middle of the next copy and comes back"),
    /** Its storage takes no more than half of the next copy. */
    RUNS_OUT_OF_ROOM("its storage is full in the middle of the next copy"),
    /** It lets nobody sign in. */
    REFUSES_THE_PASSWORD("it refuses every password"),
    /** It answers nobody. */
    ANSWERS_NOBODY("it does not answer at all");

    private final String sentence;

    Fault(String sentence) {
        this.sentence = sentence;
    }

    /** Whether only a stack can have it. */
    public boolean isOfMembers() {
        return this == DOES_NOT_REJOIN;
    }

    /** What it does, for people. */
    public String sentence() {
        return sentence;
    }

    /**
     * @throws IllegalArgumentException for a word that is none
     */
    public static Fault parse(String text) {
        return Arrays.stream(values())
                .filter(fault -> fault.toString().equals(text))
                .findFirst()
                .orElseThrow(
                        () ->
                                new IllegalArgumentException(
                                        "There is no fault \"%s\".".formatted(text)));
    }

    @Override
    public String toString() {
        return name().replace('_', '-').toLowerCase(Locale.ROOT);
    }
}
