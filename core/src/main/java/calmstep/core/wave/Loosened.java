package calmstep.core.wave;

/**
 * Which rules a try leaves aside, to find out what keeps a part from a place.
 *
 * @param overAll, site, family how many more may be in work at once
 * @param kinds whether the number of sites in one night is left aside
 * @param pilots whether nobody waits for pilots
 * @param pin whether a pinned night is left aside
 * @param beside whether units may be in work beside those that they cut off or stand in for
 * @param staging whether images are there already
 * @param ahead whether images of later hops are brought ahead too
 */
record Loosened(
        int overAll,
        int site,
        int family,
        boolean kinds,
        boolean pilots,
        boolean pin,
        boolean beside,
        boolean staging,
        boolean ahead) {
    static final Loosened NOTHING = new Loosened(0, 0, 0, false, false, false, false, false, false);

    static Loosened overAllByOne() {
        return new Loosened(1, 0, 0, false, false, false, false, false, false);
    }

    static Loosened siteByOne() {
        return new Loosened(0, 1, 0, false, false, false, false, false, false);
    }

    static Loosened familyByOne() {
        return new Loosened(0, 0, 1, false, false, false, false, false, false);
    }

    static Loosened sitesANight() {
        return new Loosened(0, 0, 0, true, false, false, false, false, false);
    }

    static Loosened soak() {
        return new Loosened(0, 0, 0, false, true, false, false, false, false);
    }

    static Loosened night() {
        return new Loosened(0, 0, 0, false, false, true, false, false, false);
    }

    static Loosened company() {
        return new Loosened(0, 0, 0, false, false, false, true, false, false);
    }

    static Loosened link() {
        return new Loosened(0, 0, 0, false, false, false, false, true, false);
    }

    static Loosened broughtAhead() {
        return new Loosened(0, 0, 0, false, false, false, false, false, true);
    }
}
