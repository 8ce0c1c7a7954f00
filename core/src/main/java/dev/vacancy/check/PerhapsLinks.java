package dev.vacancy.check;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Condition;
import dev.vacancy.dialect.Dialect;
import dev.vacancy.dialect.Fragment;
import dev.vacancy.dialect.Statements;
import dev.vacancy.failure.InvalidRequestException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Finds columns that are named after another table and its key, in whatever spelling, and hold its keys. */
final class PerhapsLinks {
    private static final int VALUES_READ = 1_000;
    private static final List<String> KEY_WORDS = List.of("id", "no", "nr", "number", "key", "code", "ref", "fk");

    private final Catalog catalog;
    private final Dialect dialect;
    private final Connection connection;

    PerhapsLinks(Catalog catalog, Dialect dialect, Connection connection) {
        this.catalog = catalog;
        this.dialect = dialect;
        this.connection = connection;
    }

    List<Finding> findings() throws SQLException {
        List<Finding> findings = new ArrayList<>();
        for (Table child : catalog.tables()) {
            for (Column column : child.columns()) {
                for (Table parent : catalog.tables()) {
                    if (!isKnown(child, column) && isNamedAfter(parent, column) && !isItsOwn(child, column, parent)) {
                        finding(child, column, parent).ifPresent(findings::add);
                    }
                }
            }
        }
        return findings;
    }

    private boolean isKnown(Table child, Column column) {
        return catalog.linksFrom(child).stream()
                .anyMatch(link -> link.childColumns().contains(column));
    }

    /** A table's own columns may begin with its name; a link to itself says what the other record is to this one. */
    private static boolean isItsOwn(Table child, Column column, Table parent) {
        return child.equals(parent)
                && (child.identity().contains(column)
                        || plain(column.storedName()).startsWith(plain(child.storedName())));
    }

    private static boolean isNamedAfter(Table parent, Column column) {
        if (parent.identity().size() != 1) {
            return false;
        }
        String table = plain(parent.storedName());
        String singular = table.endsWith("s") ? table.substring(0, table.length() - 1) : table;
        String key = plain(parent.identity().get(0).storedName());
        String name = plain(column.storedName());
        return List.of(table, singular).stream()
                .anyMatch(parentName -> (name.equals(key) && !KEY_WORDS.contains(key))
                        || name.endsWith(parentName + key)
                        || (key.contains(parentName) && name.endsWith(key))
                        || KEY_WORDS.stream().anyMatch(word -> name.endsWith(parentName + word)));
    }

    private static String plain(String name) {
        return name.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]", "");
    }

    private Optional<Finding> finding(Table child, Column column, Table parent) throws SQLException {
        Set<List<Object>> values = new LinkedHashSet<>();
        Column key = parent.identity().get(0);
        for (Object value : distinctValues(child, column)) {
            Optional<Object> asKey = asKey(parent, key, value);
            if (asKey.isEmpty()) {
                return Optional.empty();
            }
            values.add(List.of(asKey.get()));
        }
        long found = values.isEmpty() ? 0 : count(parent, List.copyOf(values));
        // A few values without a parent are just what happens to a link that nobody enforces.
        if (found == 0 || found * 2 < values.size()) {
            return Optional.empty();
        }
        String where = child.name() + "." + column.name();
        String matches = (found == values.size() ? "all " : found + " of ") + values.size()
                + " values read from it are " + (values.size() == 1 ? "a key" : "keys") + " of " + parent.name();
        return Optional.of(new Finding(
                Finding.Kind.PERHAPS_LINK,
                where,
                matches + ", but no foreign key says so: deleting a " + parent.name() + " leaves orphans here",
                "declare a foreign key, or name the link and its rule in the rules: " + where + ": " + parent.name()));
    }

    private static Optional<Object> asKey(Table parent, Column key, Object value) {
        try {
            return Optional.of(parent.convert(key, value));
        } catch (InvalidRequestException otherType) {
            return Optional.empty();
        }
    }

    private List<Object> distinctValues(Table table, Column column) throws SQLException {
        String name = dialect.quote(column.storedName());
        Condition notNull = new Condition.Not(new Condition.IsNull(column));
        Fragment query = Statements.limited(
                Statements.select(List.of("distinct " + name), table.in(dialect), notNull.in(dialect, table)),
                VALUES_READ);
        return column(query);
    }

    private long count(Table parent, List<List<Object>> keys) throws SQLException {
        Condition among = Condition.among(parent.identity(), keys);
        return ((Number) column(Statements.count(parent.in(dialect), among.in(dialect, parent)))
                        .get(0))
                .longValue();
    }

    private List<Object> column(Fragment query) throws SQLException {
        try (PreparedStatement statement = query.prepare(connection);
                ResultSet row = statement.executeQuery()) {
            List<Object> values = new ArrayList<>();
            while (row.next()) {
                values.add(dialect.read(row, 1));
            }
            return values;
        }
    }
}
