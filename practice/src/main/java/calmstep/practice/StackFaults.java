package calmstep.practice;

/**
 * Who of a stack misbehaves. What is not a matter of one member happens to the lead; what keeps a
 * member from its start happens to the last one, so that the others can show it.
 */
final class StackFaults {
    private StackFaults() {}

    static void add(Stack stack, Fault fault) {
        Machine last = stack.members().getLast();
        switch (fault) {
            case DOES_NOT_REJOIN -> last.add(Fault.STAYS_SILENT);
            case STOPS_IN_BOOT_LOADER, STARTS_THE_OLD_IMAGE -> last.add(fault);
            case STAYS_SILENT,
                    STARTS_SLOWLY,
                    FORGETS_THE_CHOICE,
                    SLOW_LINK,
                    LOSES_A_LICENCE,
                    REWRITES_A_LINE,
                    COMPLAINS_AT_ITS_START ->
                    stack.members().forEach(member -> member.add(fault));
            case DAMAGES_NEXT_COPY,
                    DAMAGES_COPIES,
                    CUTS_NEXT_COPY,
                    REACHES_NOTHING,
                    ASKS_SOMETHING_NEW,
                    LOSES_A_LINK,
                    LOSES_A_DEPENDENT,
                    RESTARTS_IN_A_COPY,
                    RUNS_OUT_OF_ROOM,
                    KEEPS_A_FLOW,
                    LOSES_A_FEED,
                    REFUSES_THE_PASSWORD,
                    ANSWERS_NOBODY ->
                    stack.leader().add(fault);
            case PARTNER_OUT_OF_SYNC -> stack.apart();
        }
    }
}
