package calmstep.core.fleet;

import calmstep.core.catalogue.Catalogue;
import java.util.Map;
import java.util.TreeMap;

/**
 * What a device runs, as people write it in one line: {@code 2.4.0}, or {@code
 * system:2.4.0,board:1.12}.
 */
public final class Components {
    private Components() {}

    /**
     * @return release by component; one without a component's name is the system's
     */
    public static Map<String, String> parse(String text) {
        Map<String, String> runs = new TreeMap<>();
        for (String one : text.split(",")) {
            int colon = one.indexOf(':');
            if (!one.isBlank()) {
                runs.put(
                        colon < 0 ? Catalogue.SYSTEM : one.substring(0, colon).strip(),
                        one.substring(colon + 1).strip());
            }
        }
        return runs;
    }
}
