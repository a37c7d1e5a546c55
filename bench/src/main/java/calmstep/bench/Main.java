package calmstep.bench;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * {@code bench [NAME…] [--output json]}; run from the top of the checkout, after {@code bin/build}.
 */
final class Main {
    private interface Measurement {
        List<Figure> take() throws Exception;
    }

    private Main() {}

    public static void main(String[] arguments) throws Exception {
        Map<String, Measurement> known = new LinkedHashMap<>();
        known.put("client-start", Starts::client);
        known.put("service-start", Starts::service);
        known.put("path-large", Paths::one);
        known.put("paths", Paths::fleet);
        known.put("stack-order", Orders::take);
        known.put("cut-off", CutOffs::take);
        known.put("forecast", Forecasts::take);
        known.put("waves", Waves::take);
        known.put("import", Imports::take);
        known.put("read-500", ReadMany::routers);
        known.put("read-1000", ReadMany::allFamilies);
        known.put("run-1000", RunMany::take);
        known.put("shelf-http", ShelfSpeed::http);
        known.put("shelf-tftp", ShelfSpeed::tftp);
        known.put("fleet-table", FleetTable::take);
        List<String> asked = new ArrayList<>(List.of(arguments));
        boolean json = asked.remove("--output") && asked.remove("json");
        List<String> unknown = asked.stream().filter(name -> !known.containsKey(name)).toList();
        if (!unknown.isEmpty()) {
            System.err.printf("Not measured here: %s. Known: %s.%n", unknown, known.keySet());
            System.exit(2);
        }
        List<Figure> figures = new ArrayList<>();
        for (Map.Entry<String, Measurement> entry : known.entrySet()) {
            if (asked.isEmpty() || asked.contains(entry.getKey())) {
                for (Figure figure : entry.getValue().take()) {
                    figures.add(figure);
                    if (!json) {
                        System.out.println(figure.line());
                    }
                }
            }
        }
        if (json) {
            System.out.println(
                    figures.stream()
                            .map(Figure::json)
                            .collect(Collectors.joining(",\n ", "[", "]")));
        }
        System.exit(figures.stream().allMatch(Figure::holds) ? 0 : 1);
    }
}
