package dev.vacancy.internal.retiring;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Retiree;
import dev.vacancy.internal.schema.CatalogReader;
import dev.vacancy.retirement.Dependent;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What is there now of a column or a table that retires, whatever catalog the rules were read for.
 *
 * @param dialect the dialect of the database
 * @param connection an open connection
 */
record PresentState(Dialect dialect, Connection connection) {
    /** How many records there are, and how many of them hold anything. */
    long[] counts(Retiree retiree, String table, Optional<String> column) throws SQLException {
        String filled = column.map(part -> "count(" + dialect.quote(part) + ")").orElse("count(*)");
        try (PreparedStatement query = connection.prepareStatement(
                        "select count(*), " + filled + " from " + dialect.name(retiree.schema(), table));
                ResultSet row = query.executeQuery()) {
            row.next();
            return new long[] {row.getLong(1), row.getLong(2)};
        }
    }

    /** What is there of all tables that coming back would make anew. */
    Optional<String> textNow(Retiree retiree, Script script) throws SQLException {
        List<String> tables = new ArrayList<>(List.of(retiree.tableAside()));
        script.kept().stream()
                .filter(object -> object.kind() == Dependent.Kind.LINK_FROM_ELSEWHERE)
                .map(object -> object.name().substring(0, object.name().lastIndexOf('.')))
                .distinct()
                .forEach(tables::add);
        return dialect.reshaping().text(connection, tables);
    }

    /** Whether there is one of its own name. */
    boolean isBack(Retiree retiree) throws SQLException {
        List<String> columns = columns(retiree, retiree.table());
        return retiree.column().map(columns::contains).orElse(!columns.isEmpty());
    }

    /** Whether it is set aside. */
    boolean isAside(Retiree retiree) throws SQLException {
        List<String> columns = columns(retiree, retiree.tableAside());
        return nameAside(retiree).map(columns::contains).orElse(!columns.isEmpty());
    }

    static Optional<String> nameAside(Retiree retiree) {
        return retiree.column().map(name -> retiree.aside());
    }

    List<String> columns(Retiree retiree, String table) throws SQLException {
        return dialect.storedColumns(connection, retiree.schema(), table);
    }

    /** Reads a table as it is now, whatever catalog the rules are for. */
    Table tableOf(Retiree retiree, String name) throws SQLException {
        Set<String> schemas = retiree.schema().isEmpty() ? Set.of() : Set.of(retiree.schema());
        return CatalogReader.read(connection, dialect, schemas, Set.of()).tables().stream()
                .filter(table -> table.schema().equals(retiree.schema())
                        && table.storedName().equals(name))
                .findFirst()
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.UNKNOWN_TABLE,
                        "The table " + name + " can't be seen.",
                        "Use an account that may read it."));
    }

    static Column column(Table table, String storedName) {
        return table.columns().stream()
                .filter(column -> column.storedName().equals(storedName))
                .findFirst()
                .orElseThrow();
    }
}
