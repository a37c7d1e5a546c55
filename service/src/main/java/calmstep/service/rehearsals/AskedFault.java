package calmstep.service.rehearsals;

/**
 * What is to go wrong.
 *
 * @param where a device, or {@code site:NAME} for all devices of a site
 * @param fault one of the faults that a stand-in knows
 */
public record AskedFault(String where, String fault) {
    private static final String SITE = "site:";

    boolean means(String device, String site) {
        return where.equals(device) || where.equals(SITE + site);
    }
}
