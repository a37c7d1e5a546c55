package calmstep.cli;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/** A table for people: fits {@value #WIDTH} columns by losing columns, the least important first, never lines. */
final class Table {
    static final int WIDTH = 100;
    private static final String GAP = "  ";

    /** A column; the higher its rank, the sooner it is left out. */
    record Column(String name, int rank) {}

    private final List<Column> columns = new ArrayList<>();
    private final List<List<String>> rows = new ArrayList<>();

    Table column(String name, int rank) {
        columns.add(new Column(name, rank));
        return this;
    }

    Table row(Object... cells) {
        rows.add(java.util.Arrays.stream(cells).map(String::valueOf).toList());
        return this;
    }

    boolean isEmpty() {
        return rows.isEmpty();
    }

    String text() {
        List<Integer> shown = new ArrayList<>(IntStream.range(0, columns.size()).boxed().toList());
        while (shown.size() > 1 && width(shown) > WIDTH) {
            shown.remove(shown.stream().max(Comparator.comparingInt((Integer i) -> columns.get(i).rank())).orElseThrow());
        }
        StringBuilder text = new StringBuilder(line(shown, columns.stream().map(Column::name).toList()));
        rows.forEach(row -> text.append(line(shown, row)));
        return text.toString();
    }

    private int width(List<Integer> shown) {
        return shown.stream().mapToInt(this::width).sum() + GAP.length() * (shown.size() - 1);
    }

    private int width(int column) {
        return Math.max(columns.get(column).name().length(), rows.stream().mapToInt(row -> row.get(column).length()).max().orElse(0));
    }

    private String line(List<Integer> shown, List<String> cells) {
        return shown.stream().map(i -> cells.get(i) + " ".repeat(width(i) - cells.get(i).length())).collect(Collectors.joining(GAP)).stripTrailing() + "\n";
    }

    /** RFC 4180, every column. */
    String csv() {
        StringBuilder text = new StringBuilder(csvLine(columns.stream().map(Column::name).toList()));
        rows.forEach(row -> text.append(csvLine(row)));
        return text.toString();
    }

    private static String csvLine(List<String> cells) {
        return cells.stream().map(c -> c.matches("(?s).*[\",\r\n].*") ? "\"" + c.replace("\"", "\"\"") + "\"" : c).collect(Collectors.joining(",")) + "\r\n";
    }
}
