package dev.vacancy.internal.rules;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Where something stands in the catalog, as rules write it.
 *
 * @param table the table
 * @param columns columns of it, at least one
 */
record Place(Table table, List<Column> columns) {
    private static final Pattern SEVERAL = Pattern.compile("(?<table>.+)\\.\\((?<columns>[^()]+)\\)");
    private static final Pattern ONE = Pattern.compile("[^()]*[^.()]\\.[^.()][^()]*");

    /**
     * Finds a place.
     *
     * @param text {@code table.column} or {@code table.(column, column)}
     * @param catalog what is there
     * @return the place
     * @throws InvalidRequestException when the text has another form, or names what isn't there
     */
    static Place of(String text, Catalog catalog) {
        Matcher several = SEVERAL.matcher(text);
        if (several.matches()) {
            Table table = catalog.table(several.group("table"));
            return new Place(
                    table,
                    Arrays.stream(several.group("columns").split(",", -1))
                            .map(String::strip)
                            .map(table::column)
                            .toList());
        }
        if (!ONE.matcher(text).matches()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "'" + text + "' doesn't say where a foreign key stands.",
                    "Write table.column, or table.(column, column).");
        }
        int end = endOfTable(text, catalog);
        Table table = catalog.table(text.substring(0, end));
        return new Place(table, List.of(table.column(text.substring(end + 1))));
    }

    /** Tables and columns may both have points in their names; what is a table's name is one. */
    private static int endOfTable(String text, Catalog catalog) {
        for (int end = text.lastIndexOf('.'); end > 0; end = text.lastIndexOf('.', end - 1)) {
            if (isTable(text.substring(0, end), catalog)) {
                return end;
            }
        }
        return text.lastIndexOf('.');
    }

    private static boolean isTable(String name, Catalog catalog) {
        return catalog.tables().stream()
                .anyMatch(table -> table.name().equalsIgnoreCase(name)
                        || table.storedName().equalsIgnoreCase(name)
                        || (table.schema() + "." + table.storedName()).equalsIgnoreCase(name));
    }

    /** Whether a text names columns; else it names a table, which may have a point in its name. */
    static boolean isOfColumns(String text, Catalog catalog) {
        return catalog.tables().stream().noneMatch(table -> table.name().equalsIgnoreCase(text))
                && (ONE.matcher(text).matches() || SEVERAL.matcher(text).matches());
    }
}
