package dev.vacancy.internal.tables;

import dev.vacancy.internal.dialect.Dialect;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * A table of ours: its columns, from which come what makes it, what brings an earlier one up to date, what is written to it and read of it.
 *
 * @param schema its schema; empty for the one that a statement means which names none
 * @param name its name
 * @param columns its columns, in their order
 * @param key the columns of its primary key
 * @param unique further columns whose values are unique
 * @param indexes its indexes
 * @since 0.1
 */
public record OwnTable(
        Optional<String> schema,
        String name,
        List<OwnColumn> columns,
        List<String> key,
        List<String> unique,
        List<OwnIndex> indexes) {
    /**
     * An index of such a table.
     *
     * @param name its name
     * @param columns its columns
     * @param ofKeys whether it is on a name and the key of a record, which may be long
     */
    public record OwnIndex(String name, List<String> columns, boolean ofKeys) {
        /**
         * Defines an index.
         *
         * @param name its name
         * @param columns its columns
         * @return the index
         */
        public static OwnIndex of(String name, String... columns) {
            return new OwnIndex(name, List.of(columns), false);
        }

        private String ddl(String table, Dialect dialect) {
            return ofKeys
                    ? dialect.keyIndex(name, table, columns.get(0), columns.get(1))
                    : "create index " + name + " on " + table + " (" + String.join(", ", columns) + ")";
        }
    }

    /** Keeps its own copies of the lists. */
    public OwnTable {
        columns = List.copyOf(columns);
        key = List.copyOf(key);
        unique = List.copyOf(unique);
        indexes = List.copyOf(indexes);
    }

    /**
     * Names the table for a statement.
     *
     * @param dialect the dialect of the database
     * @return its name, with its schema if it has one
     */
    public String in(Dialect dialect) {
        return schema.map(own -> dialect.schemaName(own) + ".").orElse("") + name;
    }

    /** {@return the names of its columns, in their order} */
    public List<String> names() {
        return columns.stream().map(OwnColumn::name).toList();
    }

    /**
     * Returns what makes the table.
     *
     * @param dialect the dialect of the database
     * @return statements in their order
     */
    public List<String> ddl(Dialect dialect) {
        List<String> statements = new ArrayList<>();
        List<String> parts = new ArrayList<>();
        columns.forEach(column -> parts.add(column.definition(dialect)
                + (key.equals(List.of(column.name())) ? " primary key" : "")
                + (unique.contains(column.name()) ? " unique" : "")));
        if (key.size() > 1) {
            parts.add("primary key (" + String.join(", ", key) + ")");
        }
        statements.add("create table " + in(dialect) + " (" + String.join(", ", parts) + ")" + dialect.tableOptions());
        indexes.forEach(index -> statements.add(index.ddl(in(dialect), dialect)));
        return statements;
    }

    /**
     * Returns what is missing of the table: all of it, or of one that an earlier version has made the columns that have come since, and room
     * in those that have become longer.
     *
     * @param dialect the dialect of the database
     * @param connection an open connection
     * @return statements in their order; none if it is as it should be
     * @throws SQLException when the database doesn't answer
     */
    public List<String> missing(Dialect dialect, Connection connection) throws SQLException {
        Map<String, Integer> there = dialect.columnsOfTable(connection, schema, name);
        if (there.isEmpty()) {
            return ddl(dialect);
        }
        List<String> statements = new ArrayList<>();
        for (OwnColumn column : columns) {
            Integer room = there.get(column.name().toLowerCase(Locale.ROOT));
            if (room == null) {
                statements.add("alter table " + in(dialect) + " add column " + column.definition(dialect));
            } else if (column.characters() > room) {
                dialect.retyping(
                                in(dialect),
                                column.name(),
                                column.type().apply(dialect),
                                column.required() ? " not null" : "")
                        .ifPresent(statements::add);
            }
        }
        return statements;
    }

    /**
     * Returns what writes rows, with a question mark for each of some columns.
     *
     * @param dialect the dialect of the database
     * @param written the columns
     * @return an insertion of one row
     */
    public String insertion(Dialect dialect, List<String> written) {
        return "insert into " + in(dialect) + " (" + String.join(", ", written) + ") values ("
                + String.join(", ", Collections.nCopies(written.size(), "?")) + ")";
    }

    /**
     * Returns what reads whole rows.
     *
     * @param dialect the dialect of the database
     * @return a query without a condition
     */
    public String selection(Dialect dialect) {
        return columns.stream().map(OwnColumn::name).collect(Collectors.joining(", ", "select ", " from "))
                + in(dialect);
    }
}
