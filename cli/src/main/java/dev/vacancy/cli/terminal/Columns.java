package dev.vacancy.cli.terminal;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Rows of text in columns of even width. */
public final class Columns {
    private Columns() {}

    public static String of(List<List<String>> rows) {
        List<Integer> widths = new ArrayList<>();
        for (List<String> row : rows) {
            for (int i = 0; i < row.size(); i++) {
                int length = row.get(i).length();
                if (i == widths.size()) {
                    widths.add(length);
                } else if (widths.get(i) < length) {
                    widths.set(i, length);
                }
            }
        }
        return rows.stream().map(row -> line(row, widths)).collect(Collectors.joining(System.lineSeparator()));
    }

    private static String line(List<String> row, List<Integer> widths) {
        StringBuilder line = new StringBuilder();
        for (int i = 0; i < row.size(); i++) {
            line.append(PlainText.of(row.get(i)));
            line.append(" ".repeat(widths.get(i) - row.get(i).length() + 2));
        }
        return line.toString().stripTrailing();
    }
}
