package dev.vacancy.internal.restoring;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Conflict;
import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.dialect.Dialect;
import java.math.BigDecimal;
import java.sql.Types;
import java.util.Optional;
import java.util.Set;

/** Whether columns can still hold what records had in them: they may have become narrower, of another type, or such that need a value. */
record ColumnFit(Dialect dialect) {
    private static final Set<String> NO_NUMBERS = Set.of("NaN", "Infinity", "-Infinity");

    /** What stands in the way of one record; empty if nothing does, or nobody can tell before. */
    Optional<Conflict> hindering(Table table, RestorableRow row) {
        for (Column column : row.image().keySet()) {
            Object value = row.image().get(column);
            if (column.generated()) {
                continue;
            }
            if (value == null && !column.nullable()) {
                return Optional.of(new Conflict(
                        table.name(),
                        row.entry().keyText(),
                        "it had nothing in " + column + ", which needs a value now",
                        "Let " + column + " be null again."));
            }
            if (value != null && !dialect.holdsAnything() && !fits(table, column, value)) {
                return Optional.of(new Conflict(
                        table.name(),
                        row.entry().keyText(),
                        "what it had in " + column + " has no room there now: it is of the type "
                                + ColumnType.of(column),
                        "Give " + column + " the type again that it had, or take what it held from the history."));
            }
        }
        return Optional.empty();
    }

    private static boolean fits(Table table, Column column, Object value) {
        ColumnType type = ColumnType.of(column);
        String text = value.toString();
        try {
            if (type.isInteger()) {
                CatalogTable.of(table).convert(column, text);
            } else if (type.jdbcType() == Types.NUMERIC || type.jdbcType() == Types.DECIMAL) {
                return NO_NUMBERS.contains(text) || CatalogColumn.of(column).holds(new BigDecimal(text));
            } else if (type.isText()) {
                return CatalogColumn.of(column).holds(text);
            }
            return true;
        } catch (InvalidRequestException | NumberFormatException otherwise) {
            return false;
        }
    }
}
