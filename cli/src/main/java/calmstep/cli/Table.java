package calmstep.cli;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * A table for people: fits {@value #WIDTH} columns by losing columns, the least important first,
 * never lines. Columns that are empty in every row are not shown. What a column says that must not
 * be lost is told beneath the table when there is no room for it.
 */
final class Table {
    static final int WIDTH = 100;
    private static final String GAP = "  ";

    /** A column; the higher its rank, the sooner it is left out. */
    record Column(String name, int rank) {}

    private final List<Column> columns = new ArrayList<>();
    private final List<List<String>> rows = new ArrayList<>();
    private String told = "";

    Table column(String name, int rank) {
        columns.add(new Column(name, rank));
        return this;
    }

    /** The column that is told beneath the table, row by row, when it does not fit. */
    Table told(String column) {
        told = column;
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
        List<Integer> shown =
                new ArrayList<>(
                        IntStream.range(0, columns.size())
                                .filter(
                                        i ->
                                                rows.isEmpty()
                                                        || rows.stream()
                                                                .anyMatch(
                                                                        row ->
                                                                                !row.get(i)
                                                                                        .isEmpty()))
                                .boxed()
                                .toList());
        List<Integer> lost = new ArrayList<>();
        while (shown.size() > 1 && width(shown) > WIDTH) {
            Integer least =
                    shown.stream()
                            .max(Comparator.comparingInt((Integer i) -> columns.get(i).rank()))
                            .orElseThrow();
            shown.remove(least);
            lost.add(least);
        }
        StringBuilder text =
                new StringBuilder(line(shown, columns.stream().map(Column::name).toList()));
        rows.forEach(row -> text.append(line(shown, row)));
        lost.stream()
                .filter(i -> columns.get(i).name().equals(told))
                .forEach(i -> text.append(beneath(i)));
        return text.toString();
    }

    private String beneath(int column) {
        return rows.stream()
                .filter(row -> !row.get(column).isEmpty())
                .map(row -> Output.paragraph(row.getFirst() + ": ", row.get(column) + "."))
                .collect(Collectors.joining("", "\n", ""));
    }

    private int width(List<Integer> shown) {
        return shown.stream().mapToInt(this::width).sum() + GAP.length() * (shown.size() - 1);
    }

    private int width(int column) {
        return Math.max(
                columns.get(column).name().length(),
                rows.stream().mapToInt(row -> row.get(column).length()).max().orElse(0));
    }

    private String line(List<Integer> shown, List<String> cells) {
        return shown.stream()
                        .map(i -> cells.get(i) + " ".repeat(width(i) - cells.get(i).length()))
                        .collect(Collectors.joining(GAP))
                        .stripTrailing()
                + "\n";
    }

    /** RFC 4180, every column. */
    String csv() {
        StringBuilder text =
                new StringBuilder(csvLine(columns.stream().map(Column::name).toList()));
        rows.forEach(row -> text.append(csvLine(row)));
        return text.toString();
    }

    private static String csvLine(List<String> cells) {
        return cells.stream()
                        .map(
                                c ->
                                        c.matches("(?s).*[\",\r\n].*")
                                                ? "\"" + c.replace("\"", "\"\"") + "\""
                                                : c)
                        .collect(Collectors.joining(","))
                + "\r\n";
    }
}
