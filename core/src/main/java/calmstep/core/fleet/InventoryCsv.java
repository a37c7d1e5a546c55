package calmstep.core.fleet;

import static calmstep.core.known.Known.known;

import calmstep.core.text.Complaints;
import calmstep.core.text.CsvText;
import calmstep.core.text.CsvText.Cell;
import calmstep.core.text.Nearest;
import calmstep.core.text.Section;
import calmstep.core.text.Spot;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * An inventory as a table: one device a line, its site's title and zone beside it. Lists stand in
 * one cell with "; " between, releases as {@code system=2.4.0; board=1.12}. A table changes what
 * its columns name and nothing else: of a device that is known, what has no column stays as it is,
 * and an empty cell empties.
 */
final class InventoryCsv {
    static final List<String> COLUMNS =
            List.of(
                    "name",
                    "family",
                    "site",
                    "site-title",
                    "zone",
                    "contacts",
                    "address",
                    "port",
                    "console-port",
                    "login",
                    "via",
                    "console",
                    "old-algorithms",
                    "medium",
                    "model",
                    "revision",
                    "region",
                    "brand",
                    "features",
                    "serial",
                    "role",
                    "tags",
                    "entitled",
                    "serves",
                    "links",
                    "root",
                    "redundancy",
                    "fed-by",
                    "runs");
    private static final List<String> NEEDED =
            List.of("name", "family", "site", "zone", "address", "login");
    private static final Set<String> LISTS =
            Set.of(
                    "login",
                    "contacts",
                    "via",
                    "old-algorithms",
                    "features",
                    "tags",
                    "links",
                    "redundancy");
    private static final Set<String> OF_SITE = Set.of("site-title", "zone", "contacts");

    private InventoryCsv() {}

    /**
     * The table in the shape of the other formats.
     *
     * @param known what is there already
     */
    static Section read(String file, String text, Complaints complaints, Inventory known) {
        List<List<Cell>> rows = CsvText.rows(file, text, complaints);
        List<Cell> header = rows.isEmpty() ? List.of() : rows.getFirst();
        checkHeader(header, complaints);
        mustDescribeNewOnes(file, rows, complaints, known);
        complaints.throwIfAny();
        Map<String, Map<String, Object>> sites = new LinkedHashMap<>();
        List<Map<String, Object>> devices = new ArrayList<>();
        for (List<Cell> row : rows.stream().skip(1).toList()) {
            mustNotBeLonger(row, header, complaints);
            readRow(header, row, sites, devices, complaints, known);
        }
        Map<String, Object> top = new LinkedHashMap<>();
        top.put("inventory", "1");
        top.put("sites", List.copyOf(sites.values()));
        top.put("devices", devices);
        return Section.ofTree(file, top, complaints);
    }

    private static void mustNotBeLonger(List<Cell> row, List<Cell> header, Complaints complaints) {
        if (row.size() > header.size()) {
            complaints.add(
                    row.get(header.size()).spot(),
                    "This line has %s cells, its header %s; quote a cell that holds a comma."
                            .formatted(row.size(), header.size()));
        }
    }

    /** A wrong header is told by itself: every line would only say it again. */
    private static void checkHeader(List<Cell> header, Complaints complaints) {
        List<String> there = header.stream().map(Cell::text).toList();
        for (int i = 0; i < header.size(); i++) {
            checkColumn(header, i, complaints, there);
        }
    }

    /** A device that is new here has to be described; one that is known may be named alone. */
    private static void mustDescribeNewOnes(
            String file, List<List<Cell>> rows, Complaints complaints, Inventory known) {
        List<String> there =
                rows.isEmpty() ? List.of() : rows.getFirst().stream().map(Cell::text).toList();
        int name = there.indexOf("name");
        boolean allKnown =
                name >= 0
                        && rows.stream()
                                .skip(1)
                                .allMatch(
                                        row ->
                                                row.size() > name
                                                        && known.find(row.get(name).text())
                                                                .isPresent());
        NEEDED.stream()
                .filter(column -> !there.contains(column))
                .filter(_ -> !allKnown)
                .forEach(
                        column ->
                                complaints.add(
                                        new Spot(file, 1, 1),
                                        "The column \"%s\" is missing; the first line names the columns, and a device that is new here needs it."
                                                .formatted(column)));
    }

    private static void checkColumn(
            List<Cell> header, int i, Complaints complaints, List<String> there) {
        Cell column = header.get(i);
        if (!COLUMNS.contains(column.text())) {
            complaints.add(
                    column.spot(),
                    "The column \"%s\" is not known here; %s"
                            .formatted(column.text(), Nearest.hint(column.text(), COLUMNS)));
        } else if (there.indexOf(column.text()) < i) {
            complaints.add(
                    column.spot(),
                    "The column \"%s\" is there twice; keep one.".formatted(column.text()));
        }
    }

    private static void readRow(
            List<Cell> header,
            List<Cell> row,
            Map<String, Map<String, Object>> sites,
            List<Map<String, Object>> devices,
            Complaints complaints,
            Inventory known) {
        Map<String, Object> device = new LinkedHashMap<>(before(header, row, known));
        Map<String, Object> site = new LinkedHashMap<>();
        for (int i = 0; i < Math.min(header.size(), row.size()); i++) {
            String column = header.get(i).text();
            Cell cell = row.get(i);
            if (cell.text().isEmpty() || !COLUMNS.contains(column)) {
                continue;
            }
            if (OF_SITE.contains(column)) {
                site.put(
                        column.equals("site-title") ? "title" : column,
                        LISTS.contains(column) ? pieces(cell) : cell);
            } else if (column.equals("runs")) {
                device.put(column, releases(cell, complaints));
            } else {
                device.put(column, LISTS.contains(column) ? pieces(cell) : cell);
            }
            if (column.equals("site")) {
                site.put("name", cell);
            }
        }
        devices.add(device);
        Optional.ofNullable(device.get("site"))
                .map(
                        name ->
                                name instanceof Cell cell
                                        ? cell
                                        : new Cell(name.toString(), row.getFirst().spot()))
                .ifPresent(
                        name -> {
                            site.put("name", name);
                            fill(site, header, name.text(), known);
                            keep(name, site, sites, complaints);
                        });
    }

    /** What is known of a row's device and has no column. */
    private static Map<String, Object> before(List<Cell> header, List<Cell> row, Inventory known) {
        Map<String, Object> before = new LinkedHashMap<>();
        for (int i = 0; i < Math.min(header.size(), row.size()); i++) {
            if (header.get(i).text().equals("name")) {
                known.find(row.get(i).text())
                        .ifPresent(device -> before.putAll(InventoryTree.of(device)));
            }
        }
        header.forEach(column -> before.remove(column.text()));
        return before;
    }

    /** What is known of a site and has no column. */
    private static void fill(
            Map<String, Object> site, List<Cell> header, String name, Inventory known) {
        List<String> there = header.stream().map(Cell::text).toList();
        known.sites().stream()
                .filter(one -> one.name().equals(name))
                .findFirst()
                .ifPresent(one -> fill(site, there, one));
    }

    private static void fill(Map<String, Object> site, List<String> there, Site known) {
        if (!there.contains("zone")) {
            site.putIfAbsent("zone", known.zone().getId());
        }
        if (!there.contains("site-title")) {
            site.putIfAbsent("title", known.title());
        }
        if (!there.contains("contacts") && !known.contacts().isEmpty()) {
            site.putIfAbsent("contacts", known.contacts());
        }
    }

    /** A site is described by every line that names it; they must agree. */
    private static void keep(
            Cell name,
            Map<String, Object> site,
            Map<String, Map<String, Object>> sites,
            Complaints complaints) {
        Map<String, Object> known =
                sites.computeIfAbsent(name.text(), _ -> new LinkedHashMap<>(Map.of("name", name)));
        site.forEach((key, value) -> keepValue(key, value, known, complaints, name));
    }

    private static void keepValue(
            String key, Object value, Map<String, Object> known, Complaints complaints, Cell name) {
        if (known.putIfAbsent(key, value) instanceof Cell there
                && value instanceof Cell here
                && !there.text().equals(here.text())) {
            complaints.add(
                    here.spot(),
                    "The site %s has the %s \"%s\" in line %s and \"%s\" here; make them agree."
                            .formatted(
                                    name.text(),
                                    key,
                                    there.text(),
                                    there.spot().line(),
                                    here.text()));
        }
    }

    private static List<Cell> pieces(Cell cell) {
        List<Cell> pieces = new ArrayList<>();
        for (String piece : cell.text().split(";")) {
            if (!piece.isBlank()) {
                pieces.add(new Cell(piece.strip(), cell.spot()));
            }
        }
        return pieces;
    }

    private static Map<String, Object> releases(Cell cell, Complaints complaints) {
        Map<String, Object> releases = new LinkedHashMap<>();
        for (Cell piece : pieces(cell)) {
            String[] sides = piece.text().split("\\s*=\\s*", 2);
            if (sides.length < 2) {
                complaints.add(
                        piece.spot(),
                        "Expected releases as \"system=2.4.0; board=1.12\", saw \"%s\"."
                                .formatted(piece.text()));
            } else {
                releases.put(sides[0], new Cell(sides[1], piece.spot()));
            }
        }
        return releases;
    }

    static String write(Inventory inventory) {
        StringBuilder text = new StringBuilder(String.join(",", COLUMNS)).append("\r\n");
        Map<String, Site> sites =
                inventory.sites().stream().collect(Collectors.toMap(Site::name, site -> site));
        for (Device device : inventory.devices()) {
            addRow(device, sites, text);
        }
        return text.toString();
    }

    private static void addRow(Device device, Map<String, Site> sites, StringBuilder text) {
        Map<String, String> cells = new TreeMap<>();
        InventoryTree.of(device).forEach((key, value) -> cells.put(key, cellOf(value)));
        Site site = known(sites, device.site());
        cells.put("site-title", site.title());
        cells.put("zone", site.zone().getId());
        cells.put("contacts", cellOf(site.contacts()));
        text.append(
                        COLUMNS.stream()
                                .map(column -> CsvText.written(cells.getOrDefault(column, "")))
                                .collect(Collectors.joining(",")))
                .append("\r\n");
    }

    private static String cellOf(Object value) {
        return switch (value) {
            case List<?> list ->
                    list.stream().map(String::valueOf).collect(Collectors.joining("; "));
            case Map<?, ?> map ->
                    map.entrySet().stream()
                            .map(e -> e.getKey() + "=" + e.getValue())
                            .collect(Collectors.joining("; "));
            default -> String.valueOf(value);
        };
    }
}
