package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.nio.ByteBuffer;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Codecs of PostgreSQL. Unless it says otherwise, a value travels as the text that the database itself writes and reads. */
class PostgresCodec implements Codec {
    private static final String POINT_IN_TIME = "timestamp with time zone";

    /** The types whose values the driver gives and takes as they are. */
    private static final Set<String> PLAIN =
            Set.of("smallint", "integer", "bigint", "boolean", "uuid", "text", "character varying");

    /** Those whose texts have nothing in them that means something to JSON (RFC 8259, section 7). */
    private static final Set<String> PLAIN_IN_JSON = Set.of(
            "smallint",
            "integer",
            "bigint",
            "numeric",
            "real",
            "double precision",
            "boolean",
            "uuid",
            "date",
            "time without time zone",
            "time with time zone",
            "timestamp without time zone",
            POINT_IN_TIME);

    /** Further ones that each session writes alike. */
    private static final Set<String> ALIKE =
            Set.of("bytea", "character", "json", "jsonb", "inet", "cidr", "bit", "bit varying");

    private final ColumnType type;

    PostgresCodec(ColumnType type) {
        this.type = type;
    }

    static PostgresCodec of(ColumnType type) {
        if (PLAIN.contains(type.castable())) {
            return new Plain(type);
        }
        return switch (type.castable()) {
            case "bytea" -> new Digits(type);
            case "money" -> new Money(type);
            case "real" -> new Single(type);
            case POINT_IN_TIME -> new PointInTime(type);
            default -> new PostgresCodec(type);
        };
    }

    @Override
    public ColumnType type() {
        return type;
    }

    /** The database reads the value from its text, so that types which no Java type stands for can be compared too. */
    @Override
    public Fragment value(Object value) {
        return written(type.castable(), value);
    }

    static Fragment written(String castable, Object value) {
        return Fragment.of("cast(cast(? as text) as " + castable + ")", Binding.of(ColumnType.spelling(value)));
    }

    /** Of other collations the catalog isn't asked whether they fold anything. */
    @Override
    public boolean isTextFolded() {
        return type.castable().endsWith("citext");
    }

    @Override
    public String text(String column) {
        return "cast(" + column + " as text)";
    }

    @Override
    public String collatedLike(String column, ColumnType parent) {
        if (type.collation().equals(parent.collation()) || !type.isText()) {
            return column;
        }
        return column + " collate " + (parent.collation().isEmpty() ? "pg_catalog.\"default\"" : parent.collation());
    }

    @Override
    public String exact(String column) {
        return imageText(column);
    }

    @Override
    public Object readExact(ResultSet row, int index) throws SQLException {
        String text = row.getString(index);
        return text == null ? null : type.read(text);
    }

    @Override
    public String imageText(String column) {
        return text(column);
    }

    /** Points in time too: images of an earlier version have them in the zone of the session that made them. */
    @Override
    public Optional<Fragment> respelled(List<String> images) {
        String castable = type.castable();
        boolean alike = PLAIN.contains(castable) || PLAIN_IN_JSON.contains(castable) || ALIKE.contains(castable);
        if (alike && !castable.equals(POINT_IN_TIME)) {
            return Optional.empty();
        }
        String[] texts = images.toArray(String[]::new);
        return Optional.of(Fragment.of(
                "select p.c, " + imageText("cast(p.c as " + castable + ")") + " from unnest(cast(? as text[])) as p(c)",
                (statement, index) ->
                        statement.setArray(index, statement.getConnection().createArrayOf("text", texts))));
    }

    /** Says the text of an image as a string of JSON, null for null. */
    final String json(String column) {
        return PLAIN_IN_JSON.contains(type.castable())
                ? "'\"' || " + imageText(column) + " || '\"'"
                : "cast(to_json(" + imageText(column) + ") as text)";
    }

    /** The server takes a text without a type for whatever its column is. */
    @Override
    public Fragment fromImage(Object value) {
        Binding text = (statement, index) -> statement.setObject(index, value, Types.OTHER);
        // With a type of the application's own, though, a text alone can't be compared.
        return PostgresTypes.isBuiltIn(type.castable())
                ? Fragment.of("?", text)
                : Fragment.of("cast(cast(? as text) as " + type.castable() + ")", text);
    }

    /** Says an array of such values, bound by {@link #elements}. */
    String array() {
        return "cast(cast(? as text[]) as " + type.castable() + "[])";
    }

    /** Says what is spread out into rows: no array of the type itself, which would nest an array and make columns of a row. */
    String spread() {
        return "cast(? as text[])";
    }

    /** Says what such a row has, as a value of the type. */
    String spreadOut(String column) {
        return "cast(" + column + " as " + type.castable() + ")";
    }

    /** Binds several values as one array. */
    Binding elements(KeySet keys, int position) {
        String[] texts = keys.values(position)
                .map(value -> ColumnType.spelling(value instanceof byte[] bytes ? ByteBuffer.wrap(bytes) : value))
                .toArray(String[]::new);
        return (statement, index) ->
                statement.setArray(index, statement.getConnection().createArrayOf("text", texts));
    }

    /** A type that the driver knows as well as the database. */
    private static final class Plain extends PostgresCodec {
        /** Those that have no lowest value before version 18. */
        private static final Set<String> UNORDERED = Set.of("boolean", "uuid");

        /** The names by which the driver knows them. */
        private static final Map<String, String> DRIVER_NAMES = Map.of(
                "smallint",
                "int2",
                "integer",
                "int4",
                "bigint",
                "int8",
                "boolean",
                "bool",
                "character varying",
                "varchar");

        Plain(ColumnType type) {
            super(type);
        }

        @Override
        public Fragment value(Object value) {
            return Fragment.of("cast(? as " + type().castable() + ")", Binding.of(value));
        }

        @Override
        public String exact(String column) {
            return column;
        }

        @Override
        public Object readExact(ResultSet row, int index) throws SQLException {
            return Values.detached(row, index);
        }

        @Override
        public String ordered(String column) {
            return UNORDERED.contains(type().castable()) ? text(column) : column;
        }

        @Override
        String array() {
            return "cast(? as " + type().castable() + "[])";
        }

        @Override
        String spread() {
            return array();
        }

        @Override
        String spreadOut(String column) {
            return column;
        }

        @Override
        Binding elements(KeySet keys, int position) {
            if (keys.values(position).allMatch(value -> value instanceof Integer || value instanceof Long)) {
                String numbers = numbers(keys.values(position).iterator());
                return (statement, index) -> statement.setObject(index, numbers, Types.OTHER);
            }
            String name = DRIVER_NAMES.getOrDefault(type().castable(), type().castable());
            Object[] values = keys.column(position);
            return (statement, index) ->
                    statement.setArray(index, statement.getConnection().createArrayOf(name, values));
        }

        /** What the driver makes of an array of many numbers takes several times the memory. */
        private static String numbers(Iterator<Object> values) {
            StringBuilder numbers = new StringBuilder("{");
            while (values.hasNext()) {
                numbers.append(values.next()).append(values.hasNext() ? "," : "");
            }
            return numbers.append('}').toString();
        }
    }

    /** A point in time. Each session writes it in a zone of its own; here it is in UTC, so that all write the same. */
    private static final class PointInTime extends PostgresCodec {
        PointInTime(ColumnType type) {
            super(type);
        }

        /** What has no end has no offset either, and years before the first end with a word. */
        @Override
        public String text(String column) {
            String utc = "cast(timezone('UTC', " + column + ") as text)";
            return "(case when not isfinite(" + column + ") then cast(" + column + " as text) when " + column
                    + " < timestamptz '0001-01-01 00:00:00+00' then replace(" + utc + ", ' BC', '+00 BC') else " + utc
                    + " || '+00' end)";
        }
    }

    /** Bytes. A server can be told to write them in another way than by their digits. */
    private static final class Digits extends PostgresCodec {
        private static final String HEX = "\\x";

        Digits(ColumnType type) {
            super(type);
        }

        @Override
        public String imageText(String column) {
            return "(chr(92) || 'x' || encode(" + column + ", 'hex'))";
        }

        @Override
        public String keyText(String column) {
            return "encode(" + column + ", 'hex')";
        }

        @Override
        public String keyOf(Object value) {
            String text = String.valueOf(value);
            return text.startsWith(HEX) ? text.substring(HEX.length()) : text;
        }
    }

    /** The driver takes money for a number, and can't read the commas in it. */
    private static final class Money extends PostgresCodec {
        Money(ColumnType type) {
            super(type);
        }

        @Override
        public Object read(ResultSet row, int index) throws SQLException {
            return row.getString(index);
        }
    }

    /** What single precision can't hold would be rounded to what it can. */
    private static final class Single extends PostgresCodec {
        Single(ColumnType type) {
            super(type);
        }

        @Override
        public Fragment value(Object value) {
            return written(value instanceof Float ? type().castable() : "double precision", value);
        }
    }
}
