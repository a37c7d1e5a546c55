package calmstep.core.text;

import java.util.ArrayList;
import java.util.List;

/**
 * Comma-separated values (RFC 4180), each cell with the place where it begins. A quoted cell may
 * hold commas, quotes (doubled) and line ends. Where the first line has semicolons and no comma, as
 * spreadsheets of many countries write it, semicolons separate.
 */
public final class CsvText {
    /**
     * @param spot where the cell's text begins, behind an opening quote
     */
    public record Cell(String text, Spot spot) {}

    private final String file;
    private final String text;
    private final Complaints complaints;
    private final char between;
    private int at;
    private int line = 1;
    private int column = 1;

    private CsvText(String file, String text, Complaints complaints) {
        this.file = file;
        this.text = text.startsWith("\uFEFF") ? text.substring(1) : text;
        this.complaints = complaints;
        String first = this.text.lines().findFirst().orElse("");
        between = first.indexOf(',') < 0 && first.indexOf(';') >= 0 ? ';' : ',';
    }

    /**
     * The rows of a text; lines that are empty are none. A quote that does not end is a complaint
     * where it begins.
     */
    public static List<List<Cell>> rows(String file, String text, Complaints complaints) {
        return new CsvText(file, text, complaints).rows();
    }

    private List<List<Cell>> rows() {
        List<List<Cell>> rows = new ArrayList<>();
        while (at < text.length()) {
            List<Cell> row = new ArrayList<>();
            do {
                row.add(cell());
            } while (take(between));
            takeLineEnd();
            if (row.size() > 1 || !row.getFirst().text().isEmpty()) {
                rows.add(row);
            }
        }
        return rows;
    }

    private Cell cell() {
        return at < text.length() && text.charAt(at) == '"' ? quoted() : plain();
    }

    private Cell plain() {
        Spot spot = new Spot(file, line, column);
        int begin = at;
        while (at < text.length() && !endsCell(text.charAt(at))) {
            step();
        }
        return new Cell(text.substring(begin, at).strip(), spot);
    }

    private Cell quoted() {
        Spot opening = new Spot(file, line, column);
        step();
        Spot spot = new Spot(file, line, column);
        StringBuilder cell = new StringBuilder();
        while (at < text.length()) {
            char c = text.charAt(at);
            step();
            if (c == '"' && !take('"')) {
                complainBehindQuote();
                return new Cell(cell.toString(), spot);
            }
            cell.append(c);
        }
        complaints.add(opening, "This quote is not closed; a quoted cell ends with a quote.");
        return new Cell(cell.toString(), spot);
    }

    private void complainBehindQuote() {
        if (at < text.length() && !endsCell(text.charAt(at))) {
            complaints.add(
                    new Spot(file, line, column),
                    "Expected a comma or the line's end behind a quoted cell, saw \"%s\"; double a quote that is meant as one."
                            .formatted(text.charAt(at)));
            plain();
        }
    }

    private boolean endsCell(char c) {
        return c == between || c == '\r' || c == '\n';
    }

    private boolean take(char wanted) {
        if (at < text.length() && text.charAt(at) == wanted) {
            step();
            return true;
        }
        return false;
    }

    private void takeLineEnd() {
        take('\r');
        take('\n');
    }

    private void step() {
        boolean lineEnds =
                text.charAt(at) == '\n'
                        || (text.charAt(at) == '\r'
                                && (at + 1 >= text.length() || text.charAt(at + 1) != '\n'));
        at++;
        line += lineEnds ? 1 : 0;
        column = lineEnds ? 1 : column + 1;
    }

    /** A cell as it is written: quoted where it must be. */
    public static String written(String cell) {
        boolean plain =
                cell.equals(cell.strip())
                        && cell.chars()
                                .noneMatch(c -> c == ',' || c == '"' || c == '\n' || c == '\r');
        return plain ? cell : "\"" + cell.replace("\"", "\"\"") + "\"";
    }
}
