package dev.vacancy.internal.check;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SqlCondition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.rule.Finding;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Finds columns that are named after another table and its key, in whatever spelling, and hold its keys. */
final class LinkSuggestions {
    private static final int VALUES_READ = 1_000;
    private static final List<String> KEY_WORDS = List.of("id", "no", "nr", "number", "key", "code", "ref", "fk");

    private final DatabaseCatalog catalog;
    private final Dialect dialect;
    private final Connection connection;
    private final Map<String, List<Table>> byWholeName = new HashMap<>();
    private final Map<String, List<Table>> byEnding = new HashMap<>();

    LinkSuggestions(DatabaseCatalog catalog, Dialect dialect, Connection connection) {
        this.catalog = catalog;
        this.dialect = dialect;
        this.connection = connection;
        catalog.tables().forEach(this::index);
    }

    List<Finding> findings() throws SQLException {
        List<Finding> findings = new ArrayList<>();
        for (Table child : catalog.tables()) {
            for (Column column : child.columns()) {
                for (Table parent : isKnown(child, column) ? Set.<Table>of() : namesakes(column)) {
                    if (!isItsOwn(child, column, parent)) {
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

    /** The tables that a column is named after: the end of its name is one of the names that a link to them could have. */
    private Set<Table> namesakes(Column column) {
        String name = plain(column.storedName());
        Set<Table> found = new LinkedHashSet<>(byWholeName.getOrDefault(name, List.of()));
        for (int start = 0; start < name.length(); start++) {
            found.addAll(byEnding.getOrDefault(name.substring(start), List.of()));
        }
        return found;
    }

    private void index(Table parent) {
        if (parent.identity().size() != 1 || isKnown(parent, parent.identity().get(0))) {
            // A key that is a link itself, such as one that two tables share, is the key of another table's records.
            return;
        }
        String table = plain(parent.storedName());
        String key = plain(parent.identity().get(0).storedName());
        if (!KEY_WORDS.contains(key)) {
            byWholeName.computeIfAbsent(key, missing -> new ArrayList<>()).add(parent);
        }
        Set<String> endings = new LinkedHashSet<>();
        for (String name : List.of(table, table.endsWith("s") ? table.substring(0, table.length() - 1) : table)) {
            endings.add(name + key);
            KEY_WORDS.forEach(word -> endings.add(name + word));
            if (key.contains(name)) {
                endings.add(key);
            }
        }
        endings.forEach(ending ->
                byEnding.computeIfAbsent(ending, missing -> new ArrayList<>()).add(parent));
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
            return Optional.of(CatalogTable.of(parent).convert(key, value));
        } catch (InvalidRequestException otherType) {
            return Optional.empty();
        }
    }

    private List<Object> distinctValues(Table table, Column column) throws SQLException {
        Condition notNull = new Condition.Not(new Condition.IsNull(column));
        String name = dialect.name(Statements.alias(), column);
        Fragment query = Statements.limited(
                Statements.select(List.of("distinct " + dialect.codec(column).exact(name)), from(table, notNull)),
                VALUES_READ);
        return read(query, row -> dialect.codec(column).readExact(row, 1));
    }

    private long count(Table parent, List<List<Object>> keys) throws SQLException {
        Condition among = new Condition.Among(parent.identity(), keys);
        return read(Statements.select(List.of("count(*)"), from(parent, among)), row -> row.getLong(1))
                .get(0);
    }

    private Fragment from(Table table, Condition condition) {
        String alias = Statements.alias();
        return dialect.from(
                dialect.name(table),
                alias,
                dialect.names(alias, table.identity()),
                SqlCondition.alternatives(condition, dialect));
    }

    private interface Reader<T> {
        T read(ResultSet row) throws SQLException;
    }

    private <T> List<T> read(Fragment query, Reader<T> reader) throws SQLException {
        try (PreparedStatement statement = query.prepare(connection);
                ResultSet row = statement.executeQuery()) {
            List<T> values = new ArrayList<>();
            while (row.next()) {
                values.add(reader.read(row));
            }
            return values;
        }
    }
}
