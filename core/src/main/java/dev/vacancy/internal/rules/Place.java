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
    private static final Pattern PLACE =
            Pattern.compile("(?<table>.+?)\\.(?:\\((?<several>[^()]+)\\)|(?<one>[^.()]+))");

    /**
     * Finds a place.
     *
     * @param text {@code table.column} or {@code table.(column, column)}
     * @param catalog what is there
     * @return the place
     * @throws InvalidRequestException when the text has another form, or names what isn't there
     */
    static Place of(String text, Catalog catalog) {
        Matcher place = PLACE.matcher(text);
        if (!place.matches()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "'" + text + "' doesn't say where a foreign key stands.",
                    "Write table.column, or table.(column, column).");
        }
        String names = place.group("one") == null ? place.group("several") : place.group("one");
        Table table = catalog.table(place.group("table"));
        return new Place(
                table,
                Arrays.stream(names.split(",", -1))
                        .map(String::strip)
                        .map(table::column)
                        .toList());
    }

    /** Whether a text names columns; else it names a table, which may have a point in its name. */
    static boolean isOfColumns(String text, Catalog catalog) {
        return catalog.tables().stream().noneMatch(table -> table.name().equalsIgnoreCase(text))
                && PLACE.matcher(text).matches();
    }
}
