package calmstep.bench;

import java.util.Locale;

/**
 * One measured figure.
 *
 * @param aim what it should be below
 */
record Figure(String name, double value, String unit, double aim) {
    boolean holds() {
        return value <= aim;
    }

    String line() {
        return String.format(
                Locale.ROOT,
                "%-22s %10.2f %-6s aim %8.2f   %s",
                name,
                value,
                unit,
                aim,
                holds() ? "holds" : "falls short");
    }

    String json() {
        return String.format(
                Locale.ROOT,
                "{\"name\":\"%s\",\"value\":%.3f,\"unit\":\"%s\",\"aim\":%.3f,\"holds\":%b}",
                name,
                value,
                unit,
                aim,
                holds());
    }
}
