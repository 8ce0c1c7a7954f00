package dev.vacancy.catalog;

import dev.vacancy.dialect.Dialect;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** Reads a catalog from JDBC metadata. */
final class CatalogReader {
    private static final String[] TABLE_TYPES = {"TABLE", "BASE TABLE", "PARTITIONED TABLE"};

    private final DatabaseMetaData metadata;
    private final Dialect dialect;
    private final String database;
    private final String ownSchema;
    private final boolean foldsToUpper;

    CatalogReader(Connection connection, Dialect dialect) throws SQLException {
        this.metadata = connection.getMetaData();
        this.dialect = dialect;
        this.database = connection.getCatalog();
        this.ownSchema = connection.getSchema();
        this.foldsToUpper = metadata.storesUpperCaseIdentifiers();
    }

    Catalog read() throws SQLException {
        Map<Place, Table> tables = new LinkedHashMap<>();

        Map<Place, List<Column>> columns = readColumns();
        List<Place> places = readPlaces();
        for (Place place : places) {
            tables.put(place, table(place, places, columns.getOrDefault(place, List.of()), readIndexes(place)));
        }
        List<Link> links = new ArrayList<>();
        for (Place place : places) {
            links.addAll(readLinks(place, tables));
        }
        return new Catalog(List.copyOf(tables.values()), links);
    }

    private List<Place> readPlaces() throws SQLException {
        List<Place> places = new ArrayList<>();
        try (ResultSet rows = metadata.getTables(database, null, "%", TABLE_TYPES)) {
            while (rows.next()) {
                Place place = new Place(rows.getString("TABLE_SCHEM"), rows.getString("TABLE_NAME"));
                if (!dialect.isSystemSchema(place.schema)) {
                    places.add(place);
                }
            }
        }
        places.sort(null);
        return places;
    }

    private Map<Place, List<Column>> readColumns() throws SQLException {
        Map<Place, List<Column>> columns = new LinkedHashMap<>();
        try (ResultSet rows = metadata.getColumns(database, null, "%", "%")) {
            while (rows.next()) {
                Place place = new Place(rows.getString("TABLE_SCHEM"), rows.getString("TABLE_NAME"));
                String stored = rows.getString("COLUMN_NAME");
                columns.computeIfAbsent(place, missing -> new ArrayList<>())
                        .add(new Column(
                                Names.shown(stored, foldsToUpper),
                                stored,
                                rows.getString("TYPE_NAME"),
                                rows.getInt("DATA_TYPE"),
                                rows.getInt("NULLABLE") != DatabaseMetaData.columnNoNulls));
            }
        }
        return columns;
    }

    private Table table(Place place, List<Place> all, List<Column> columns, Indexes indexes) throws SQLException {
        List<Column> distinct = withDistinctNames(columns);
        Map<Integer, Column> primaryKey = new TreeMap<>();
        try (ResultSet rows = metadata.getPrimaryKeys(database, place.schema, place.name)) {
            while (rows.next()) {
                primaryKey.put((int) rows.getShort("KEY_SEQ"), stored(distinct, rows.getString("COLUMN_NAME")));
            }
        }
        List<Column> key = List.copyOf(primaryKey.values());
        List<List<Column>> uniqueKeys = known(indexes.unique, distinct).stream()
                .filter(unique -> !unique.equals(key))
                .toList();
        return new Table(
                shown(place, all), place.schema, place.name, distinct, key, uniqueKeys, known(indexes.all, distinct));
    }

    /** Writes the schema in front unless it is the connection's own, and quotes where two tables would look the same. */
    private String shown(Place place, List<Place> all) {
        String name = Names.shown(place.name, foldsToUpper);
        boolean ambiguous = all.stream()
                .anyMatch(other -> other.schema.equals(place.schema)
                        && !other.equals(place)
                        && Names.shown(other.name, foldsToUpper).equals(name));
        String distinct = ambiguous && name.equals(place.name) ? dialect.quote(name) : name;
        return place.schema.equals(ownSchema) ? distinct : Names.shown(place.schema, foldsToUpper) + "." + distinct;
    }

    private List<Column> withDistinctNames(List<Column> columns) {
        return columns.stream()
                .map(column -> column.name().equals(column.storedName())
                                && columns.stream()
                                        .anyMatch(other -> !other.equals(column)
                                                && other.name().equals(column.name()))
                        ? new Column(
                                dialect.quote(column.storedName()),
                                column.storedName(),
                                column.type(),
                                column.jdbcType(),
                                column.nullable())
                        : column)
                .toList();
    }

    private Indexes readIndexes(Place place) throws SQLException {
        Map<String, Map<Integer, String>> columns = new LinkedHashMap<>();
        Map<String, Boolean> unique = new LinkedHashMap<>();
        try (ResultSet rows = metadata.getIndexInfo(database, place.schema, place.name, false, true)) {
            while (rows.next()) {
                String name = rows.getString("INDEX_NAME");
                if (name == null || rows.getString("FILTER_CONDITION") != null) {
                    continue;
                }
                String column = rows.getString("COLUMN_NAME");
                columns.computeIfAbsent(name, missing -> new TreeMap<>())
                        .put((int) rows.getShort("ORDINAL_POSITION"), column == null ? "" : column);
                unique.put(name, !rows.getBoolean("NON_UNIQUE"));
            }
        }
        Indexes indexes = new Indexes(new ArrayList<>(), new ArrayList<>());
        columns.forEach((name, positions) -> indexes.add(List.copyOf(positions.values()), unique.get(name)));
        return indexes;
    }

    private List<Link> readLinks(Place place, Map<Place, Table> tables) throws SQLException {
        List<Link> links = new ArrayList<>();
        try (ResultSet rows = metadata.getImportedKeys(database, place.schema, place.name)) {
            Map<String, ForeignKey> keys = new TreeMap<>();
            while (rows.next()) {
                Place parent = new Place(rows.getString("PKTABLE_SCHEM"), rows.getString("PKTABLE_NAME"));
                OnDelete onDelete = OnDelete.fromJdbc(rows.getShort("DELETE_RULE"));
                keys.computeIfAbsent(rows.getString("FK_NAME"), name -> new ForeignKey(parent, onDelete))
                        .pairs
                        .put(
                                (int) rows.getShort("KEY_SEQ"),
                                List.of(rows.getString("FKCOLUMN_NAME"), rows.getString("PKCOLUMN_NAME")));
            }
            keys.forEach((name, key) -> {
                Table child = tables.get(place);
                Table parent = tables.get(key.parent);
                if (parent != null) {
                    links.add(link(name, child, parent, key));
                }
            });
        }
        return links;
    }

    private static Link link(String name, Table child, Table parent, ForeignKey key) {
        List<Column> childColumns = key.pairs.values().stream()
                .map(pair -> stored(child.columns(), pair.get(0)))
                .toList();
        List<Column> parentColumns = key.pairs.values().stream()
                .map(pair -> stored(parent.columns(), pair.get(1)))
                .toList();
        return new Link(name, child, childColumns, parent, parentColumns, key.onDelete, true);
    }

    private static Column stored(List<Column> columns, String name) {
        return columns.stream()
                .filter(column -> column.storedName().equals(name))
                .findFirst()
                .orElseThrow(
                        () -> new IllegalStateException("The metadata names a column " + name + " it doesn't list"));
    }

    private static List<List<Column>> known(List<List<String>> indexes, List<Column> columns) {
        return indexes.stream()
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

    private record Indexes(List<List<String>> all, List<List<String>> unique) {
        void add(List<String> columns, boolean isUnique) {
            all.add(columns);
            if (isUnique) {
                unique.add(columns);
            }
        }
    }

    private record ForeignKey(Place parent, OnDelete onDelete, Map<Integer, List<String>> pairs) {
        ForeignKey(Place parent, OnDelete onDelete) {
            this(parent, onDelete, new TreeMap<>());
        }
    }
}
