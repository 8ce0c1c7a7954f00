package dev.vacancy.internal.schema;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.Access;
import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.catalog.OnDelete;
import dev.vacancy.internal.dialect.ColumnTypes;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.ForeignKey;
import dev.vacancy.internal.dialect.Index;
import dev.vacancy.internal.dialect.InvisibleColumn;
import dev.vacancy.internal.dialect.Namespace;
import dev.vacancy.internal.dialect.Retiree;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Reads a catalog from JDBC metadata. */
public final class CatalogReader {
    private static final Pattern UPPER = Pattern.compile("[A-Z_][A-Z0-9_$]*");
    private static final String[] TABLE_TYPES = {"TABLE", "BASE TABLE", "PARTITIONED TABLE"};

    private final Connection connection;
    private final Collection<String> schemas;
    private final Set<String> passedOver;
    private final DatabaseMetaData metadata;
    private final Dialect dialect;
    private final Namespace namespace;
    private final String ownSchema;
    private final boolean foldsToUpper;

    private CatalogReader(
            Connection connection, Dialect dialect, Collection<String> schemas, Collection<String> passedOver)
            throws SQLException {
        this.schemas = schemas;
        this.passedOver =
                passedOver.stream().map(name -> name.toLowerCase(Locale.ROOT)).collect(Collectors.toSet());
        this.connection = connection;
        this.metadata = connection.getMetaData();
        this.dialect = dialect;
        this.namespace = dialect.namespace();
        this.ownSchema = String.valueOf(namespace.own(connection));
        this.foldsToUpper = metadata.storesUpperCaseIdentifiers();
    }

    /**
     * Reads the catalog: the tables of the connection's own schema and of some others, and those that links connect with them.
     *
     * @param connection an open connection
     * @param dialect the dialect of its database
     * @param schemas the further schemas, as the database stores their names
     * @return the catalog as it is now; later changes of the schema don't show in it
     * @throws SQLException when the database doesn't answer
     */
    public static DatabaseCatalog read(Connection connection, Dialect dialect, Collection<String> schemas)
            throws SQLException {
        return read(connection, dialect, schemas, Set.of());
    }

    /**
     * Does the same without some tables.
     *
     * @param connection an open connection
     * @param dialect the dialect of its database
     * @param schemas the further schemas
     * @param passedOver the tables that are left out, in any case of letters; if there are any, so are those that are set aside
     * @return the catalog
     * @throws SQLException when the database doesn't answer
     */
    public static DatabaseCatalog read(
            Connection connection, Dialect dialect, Collection<String> schemas, Collection<String> passedOver)
            throws SQLException {
        return new CatalogReader(connection, dialect, schemas, passedOver).read();
    }

    private DatabaseCatalog read() throws SQLException {
        Map<Place, Table> tables = new TreeMap<>();
        List<Place> places = readPlaces();
        Map<Place, List<Column>> columns = readColumns(places);
        Map<Place, Long> lookingTheSame = places.stream()
                .collect(Collectors.groupingBy(
                        place -> new Place(place.schema, shown(place.name, foldsToUpper)),
                        TreeMap::new,
                        Collectors.counting()));
        Index.OfTable indexes = dialect.indexes(connection);
        for (Place place : places) {
            List<Index> own = indexes.of(place.schema, place.name);
            tables.put(place, table(place, lookingTheSame, columns.getOrDefault(place, List.of()), own));
        }
        List<Link> links = new ArrayList<>();
        for (Place place : places) {
            links.addAll(readLinks(place, tables));
        }
        Map<Table, Table> wholes = new LinkedHashMap<>();
        dialect.partsOfTables(connection).forEach((part, whole) -> {
            Table partTable = tables.get(new Place(part.get(0), part.get(1)));
            Table wholeTable = tables.get(new Place(whole.get(0), whole.get(1)));
            if (partTable != null && wholeTable != null) {
                wholes.put(partTable, wholeTable);
            }
        });
        CatalogMembership.Kept whole = new CatalogMembership(wholes).withoutParts(List.copyOf(tables.values()), links);
        Set<String> meant = new LinkedHashSet<>(schemas);
        meant.add(ownSchema);
        CatalogMembership.Kept kept = CatalogMembership.around(meant, whole.tables(), whole.links());
        Map<List<String>, Access> known = dialect.access(connection);
        Map<Table, Access> access = new LinkedHashMap<>();
        kept.tables()
                .forEach(table -> Optional.ofNullable(known.get(List.of(table.schema(), table.storedName())))
                        .ifPresent(limits -> access.put(table, limits)));
        return new DatabaseCatalog(kept.tables(), kept.links(), Map.of(), access);
    }

    private List<Place> readPlaces() throws SQLException {
        List<Place> places = new ArrayList<>();
        try (ResultSet rows = metadata.getTables(catalog(null), null, "%", TABLE_TYPES)) {
            while (rows.next()) {
                Place place = new Place(namespace.of(rows, "TABLE"), rows.getString("TABLE_NAME"));
                String name = place.name.toLowerCase(Locale.ROOT);
                boolean own = passedOver.contains(name) || (Retiree.isAside(name) && !passedOver.isEmpty());
                if (!own && !dialect.isSystemSchema(place.schema)) {
                    places.add(place);
                }
            }
        }
        places.sort(null);
        return places;
    }

    private Map<Place, List<Column>> readColumns(List<Place> places) throws SQLException {
        ColumnTypes types = dialect.columnTypes(connection);
        Map<Place, List<Column>> columns = new TreeMap<>();
        if (dialect.describesTablesTogether()) {
            readColumns("%", types, columns);
            addInvisible(types, columns);
            return columns;
        }
        for (Place place : places) {
            // The name is a pattern, and may pick others too.
            Map<Place, List<Column>> alike = new TreeMap<>();
            readColumns(place.name, types, alike);
            columns.put(place, alike.getOrDefault(place, List.of()));
        }
        return columns;
    }

    private void readColumns(String pattern, ColumnTypes types, Map<Place, List<Column>> columns) throws SQLException {
        try (ResultSet rows = metadata.getColumns(catalog(null), null, pattern, "%")) {
            while (rows.next()) {
                Place place = new Place(namespace.of(rows, "TABLE"), rows.getString("TABLE_NAME"));
                columns.computeIfAbsent(place, missing -> new ArrayList<>()).add(column(place, rows, types));
            }
        }
    }

    private void addInvisible(ColumnTypes types, Map<Place, List<Column>> columns) throws SQLException {
        for (InvisibleColumn invisible : dialect.invisibleColumns(connection)) {
            List<Column> known = columns.computeIfAbsent(
                    new Place(invisible.schema(), invisible.table()), place -> new ArrayList<>());
            known.add(Math.min(invisible.place() - 1, known.size()), column(invisible, types));
        }
    }

    /** What the driver's metadata doesn't tell of it, that of a statement does. */
    private Column column(InvisibleColumn invisible, ColumnTypes types) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement("select " + dialect.quote(invisible.name())
                + " from " + dialect.name(invisible.schema(), invisible.table()))) {
            ResultSetMetaData of = statement.getMetaData();
            ColumnType reported =
                    ColumnType.of(of.getColumnTypeName(1), of.getColumnType(1), of.getPrecision(1), of.getScale(1));
            return new CatalogColumn(
                    shown(invisible.name(), foldsToUpper),
                    invisible.name(),
                    types.of(invisible.schema(), invisible.table(), invisible.name(), reported),
                    of.isNullable(1) != ResultSetMetaData.columnNoNulls,
                    invisible.declaredDefault(),
                    invisible.generated(),
                    of.isAutoIncrement(1));
        }
    }

    private Column column(Place place, ResultSet rows, ColumnTypes types) throws SQLException {
        String stored = rows.getString("COLUMN_NAME");
        ColumnType reported = ColumnType.of(
                rows.getString("TYPE_NAME"),
                rows.getInt("DATA_TYPE"),
                rows.getInt("COLUMN_SIZE"),
                rows.getInt("DECIMAL_DIGITS"));
        return new CatalogColumn(
                shown(stored, foldsToUpper),
                stored,
                types.of(place.schema, place.name, stored, reported),
                rows.getInt("NULLABLE") != DatabaseMetaData.columnNoNulls,
                Optional.ofNullable(rows.getString("COLUMN_DEF")),
                "YES".equals(rows.getString("IS_GENERATEDCOLUMN")),
                "YES".equals(rows.getString("IS_AUTOINCREMENT")));
    }

    private Table table(Place place, Map<Place, Long> lookingTheSame, List<Column> columns, List<Index> indexes)
            throws SQLException {
        List<Column> distinct = withDistinctNames(columns);
        Map<Integer, Column> primaryKey = new TreeMap<>();
        try (ResultSet rows =
                metadata.getPrimaryKeys(catalog(place.schema), namespace.schema(place.schema), place.name)) {
            while (rows.next()) {
                primaryKey.put((int) rows.getShort("KEY_SEQ"), stored(distinct, rows.getString("COLUMN_NAME")));
            }
        }
        List<Column> key = List.copyOf(primaryKey.values());
        List<String> keyNames = key.stream().map(Column::storedName).toList();
        Stream<Index> uniqueKeys = indexes.stream()
                .filter(index -> index.unique() && !index.columns().equals(keyNames));
        return new CatalogTable(
                shown(place, lookingTheSame),
                place.schema,
                place.name,
                distinct,
                key,
                known(uniqueKeys, distinct),
                known(indexes.stream(), distinct));
    }

    /** Writes the schema in front unless it is the connection's own, and quotes where two tables would look the same. */
    private String shown(Place place, Map<Place, Long> lookingTheSame) {
        String name = shown(place.name, foldsToUpper);
        boolean ambiguous = lookingTheSame.get(new Place(place.schema, name)) > 1;
        String distinct = ambiguous && name.equals(place.name) ? dialect.quote(name) : name;
        return place.schema.equals(ownSchema) ? distinct : shown(place.schema, foldsToUpper) + "." + distinct;
    }

    private List<Column> withDistinctNames(List<Column> columns) {
        return columns.stream()
                .map(column -> column.name().equals(column.storedName())
                                && columns.stream()
                                        .anyMatch(other -> !other.storedName().equals(column.storedName())
                                                && other.name().equals(column.name()))
                        ? new CatalogColumn(
                                dialect.quote(column.storedName()),
                                column.storedName(),
                                ColumnType.of(column),
                                column.nullable(),
                                CatalogColumn.of(column).declaredDefault(),
                                column.generated(),
                                CatalogColumn.of(column).numbered())
                        : column)
                .toList();
    }

    private List<Link> readLinks(Place place, Map<Place, Table> tables) throws SQLException {
        List<Link> links = new ArrayList<>();
        for (ForeignKey key : dialect.foreignKeys(connection, place.schema, place.name)) {
            Table parent = tables.get(new Place(key.parentSchema(), key.parentTable()));
            if (parent != null) {
                links.add(link(key, tables.get(place), parent));
            }
        }
        return links;
    }

    private static Link link(ForeignKey key, Table child, Table parent) {
        List<Column> parentColumns =
                key.parentColumns().isEmpty() ? parent.primaryKey() : stored(parent, key.parentColumns());
        return new CatalogLink(
                key.name(),
                child,
                stored(child, key.columns()),
                parent,
                parentColumns,
                OnDelete.fromJdbc(key.deleteRule()),
                true,
                stored(child, key.emptied()),
                key.deferrable(),
                key.enforced());
    }

    /** Shows a regular identifier that the database folded to upper case the way people write it. */
    private static String shown(String stored, boolean foldsToUpper) {
        return foldsToUpper && UPPER.matcher(stored).matches() ? stored.toLowerCase(Locale.ROOT) : stored;
    }

    private String catalog(String schema) throws SQLException {
        return namespace.catalog(connection, schema);
    }

    private static List<Column> stored(Table table, List<String> names) {
        return names.stream().map(name -> stored(table.columns(), name)).toList();
    }

    private static Column stored(List<Column> columns, String name) {
        return columns.stream()
                .filter(column -> column.storedName().equals(name))
                .findFirst()
                .or(() -> columns.stream()
                        .filter(column -> column.storedName().equalsIgnoreCase(name))
                        .findFirst())
                .orElseThrow(
                        () -> new IllegalStateException("The metadata names a column " + name + " it doesn't list"));
    }

    private static List<List<Column>> known(Stream<Index> indexes, List<Column> columns) {
        return indexes.map(Index::columns)
                .filter(names -> names.stream().allMatch(name -> isStored(columns, name)))
                .map(names -> names.stream().map(name -> stored(columns, name)).toList())
                .toList();
    }

    /** An index over an expression lists that expression where a column's name is expected. */
    private static boolean isStored(List<Column> columns, String name) {
        return columns.stream().anyMatch(column -> column.storedName().equals(name));
    }

    private record Place(String schema, String name) implements Comparable<Place> {
        @Override
        public int compareTo(Place other) {
            int bySchema = schema.compareTo(other.schema);
            return bySchema == 0 ? name.compareTo(other.name) : bySchema;
        }
    }
}
