package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.Temporal;
import java.util.Base64;
import java.util.Locale;
import java.util.Set;
import java.util.UUID;

/** Codecs of MariaDB and MySQL. Unless it says otherwise, a value travels as the driver gives it, and stands in an image as text. */
class MariaDbCodec implements Codec {
    private static final Set<String> LARGE =
            Set.of("mediumtext", "longtext", "mediumblob", "longblob", "json", "long varchar", "long varbinary");
    private static final Set<String> SPATIAL = Set.of(
            "geometry",
            "point",
            "linestring",
            "polygon",
            "multipoint",
            "multilinestring",
            "multipolygon",
            "geometrycollection");

    private final ColumnType type;

    MariaDbCodec(ColumnType type) {
        this.type = type;
    }

    static MariaDbCodec of(ColumnType type) {
        String name = type.name().toLowerCase(Locale.ROOT);
        if (name.equals("timestamp")) {
            return new PointInTime(type);
        }
        if (name.equals("year")) {
            return new Year(type);
        }
        if (type.isBinary() || SPATIAL.contains(name)) {
            return new Digits(type);
        }
        return switch (type.jdbcType()) {
            case Types.BIT -> new Bits(type);
            case Types.BOOLEAN -> new Truth(type);
            case Types.FLOAT, Types.REAL -> new Single(type);
            case Types.DATE, Types.TIME, Types.TIMESTAMP, Types.OTHER -> new Written(type);
            default -> new MariaDbCodec(type);
        };
    }

    /** A value as it stands in a JSON text. */
    static Object inJson(Object value) {
        if (value instanceof OffsetDateTime time) {
            return PointInTime.seconds(time).toPlainString();
        }
        if (value instanceof BigDecimal number) {
            return number.toPlainString();
        }
        return value instanceof Temporal ? ColumnType.spelling(value) : value;
    }

    @Override
    public ColumnType type() {
        return type;
    }

    final String typeName() {
        return type.name().toLowerCase(Locale.ROOT);
    }

    @Override
    public Fragment value(Object value) {
        if (value instanceof Float number) {
            return Fragment.of("?", Binding.of(number.doubleValue()));
        }
        return Fragment.of("?", Binding.of(value instanceof Temporal ? ColumnType.spelling(value) : value));
    }

    @Override
    public boolean isTextFolded() {
        return !type.collation().isEmpty() && !type.collation().endsWith("_bin");
    }

    @Override
    public String text(String column) {
        return "cast(" + column + " as char)";
    }

    @Override
    public String collatedLike(String column, ColumnType parent) {
        if (type.collation().equals(parent.collation())
                || parent.collation().isEmpty()
                || type.collation().isEmpty()) {
            return column;
        }
        String[] words = parent.collation().split(" ", -1);
        return "convert(" + column + " using " + words[0] + ") collate " + words[1];
    }

    @Override
    public Object readExact(ResultSet row, int index) throws SQLException {
        return Values.detached(row, index);
    }

    /** Whatever is larger than a packet becomes null, and a value of 64 kB never is. */
    @Override
    public boolean mayBeTooLarge() {
        return LARGE.contains(typeName()) || SPATIAL.contains(typeName());
    }

    @Override
    public String imageText(String column) {
        return text(column);
    }

    @Override
    public String keyOf(Object value) {
        return String.valueOf(value);
    }

    @Override
    public Fragment fromImage(Object value) {
        return Fragment.of("?", Binding.of(value));
    }

    /**
     * Says a value of a JSON table as one of the type.
     *
     * @param value a column of the JSON table, declared as the type's {@link ColumnType#castable()}
     * @return an expression that is compared with what {@link #comparand} makes of a column
     */
    String fromJson(String value) {
        return value;
    }

    /** Compared and kept as it is read. */
    private abstract static class Converted extends MariaDbCodec {
        Converted(ColumnType type) {
            super(type);
        }

        @Override
        public String comparand(String column) {
            return exact(column);
        }

        @Override
        public String imageText(String column) {
            return text(exact(column));
        }
    }

    /** A point in time and not what a clock shows: told apart from the same hour before the clocks went back by its number of seconds. */
    private static final class PointInTime extends Converted {
        PointInTime(ColumnType type) {
            super(type);
        }

        static BigDecimal seconds(OffsetDateTime time) {
            return BigDecimal.valueOf(time.toEpochSecond()).add(BigDecimal.valueOf(time.getNano(), 9));
        }

        private static OffsetDateTime instant(BigDecimal seconds) {
            long whole = seconds.longValue();
            long nanos = seconds.subtract(BigDecimal.valueOf(whole))
                    .movePointRight(9)
                    .longValueExact();
            return Instant.ofEpochSecond(whole, nanos).atOffset(ZoneOffset.UTC);
        }

        @Override
        public String exact(String column) {
            return "unix_timestamp(" + column + ")";
        }

        @Override
        public Object readExact(ResultSet row, int index) throws SQLException {
            BigDecimal seconds = row.getBigDecimal(index);
            return seconds == null ? null : instant(seconds);
        }

        /** A driver reads it in a zone of the virtual machine's, whatever the session's is. */
        @Override
        public String shown(String column) {
            return exact(column);
        }

        @Override
        public Object read(ResultSet row, int index) throws SQLException {
            return readExact(row, index);
        }

        @Override
        public Fragment value(Object value) {
            return value instanceof OffsetDateTime time
                    ? Fragment.of("?", Binding.of(seconds(time)))
                    : Fragment.of("unix_timestamp(?)", Binding.of(ColumnType.spelling(value)));
        }

        @Override
        public Fragment stored(Object value) {
            return value instanceof OffsetDateTime time
                    ? Fragment.of("from_unixtime(?)", Binding.of(seconds(time)))
                    : Fragment.of("?", Binding.of(ColumnType.spelling(value)));
        }

        @Override
        public Fragment fromImage(Object value) {
            return Fragment.of("from_unixtime(cast(? as decimal(30, 6)))", Binding.of(value));
        }

        @Override
        String fromJson(String value) {
            return "case when " + value + " like '%-%' then unix_timestamp(" + value + ") else cast(" + value
                    + " as decimal(30, 6)) end";
        }
    }

    /** A year, which the driver would take for a date. */
    private static final class Year extends MariaDbCodec {
        Year(ColumnType type) {
            super(type);
        }

        @Override
        public String exact(String column) {
            return "cast(" + column + " as unsigned)";
        }

        @Override
        public Object readExact(ResultSet row, int index) throws SQLException {
            return row.getObject(index, Long.class);
        }
    }

    /** Bytes that are no text, the shapes of a map among them. */
    private static final class Digits extends MariaDbCodec {
        Digits(ColumnType type) {
            super(type);
        }

        @Override
        public String imageText(String column) {
            return "to_base64(" + column + ")";
        }

        @Override
        public Fragment fromImage(Object value) {
            return Fragment.of("from_base64(?)", Binding.of(value));
        }

        @Override
        public String keyText(String column) {
            return "lower(hex(" + column + "))";
        }

        @Override
        public String keyOf(Object value) {
            return value instanceof String digits
                    ? Bytes.hex(ByteBuffer.wrap(Base64.getMimeDecoder().decode(digits)))
                    : String.valueOf(value);
        }

        @Override
        String fromJson(String value) {
            return "unhex(" + value + ")";
        }
    }

    /** Some bits, as the number that they make. */
    private static final class Bits extends Converted {
        Bits(ColumnType type) {
            super(type);
        }

        @Override
        public String exact(String column) {
            return "(" + column + " + 0)";
        }

        @Override
        public Object readExact(ResultSet row, int index) throws SQLException {
            return row.getObject(index, BigInteger.class);
        }

        @Override
        public Fragment fromImage(Object value) {
            return Fragment.of("cast(? as unsigned)", Binding.of(value));
        }
    }

    /** A number of one digit that stands for true and false, and can be another one. */
    private static final class Truth extends MariaDbCodec {
        Truth(ColumnType type) {
            super(type);
        }

        @Override
        public String exact(String column) {
            return "(" + column + " + 0)";
        }

        @Override
        public Object readExact(ResultSet row, int index) throws SQLException {
            long number = row.getLong(index);
            if (row.wasNull()) {
                return null;
            }
            return number == 0 || number == 1 ? (Object) (number == 1) : (Object) number;
        }
    }

    /** A number of single precision, of which the database shows fewer digits than it has. */
    private static final class Single extends MariaDbCodec {
        Single(ColumnType type) {
            super(type);
        }

        @Override
        public String exact(String column) {
            return "cast(" + column + " as double)";
        }

        @Override
        public Object readExact(ResultSet row, int index) throws SQLException {
            Double number = row.getObject(index, Double.class);
            return number == null ? null : (Object) Float.valueOf(number.floatValue());
        }

        @Override
        public String imageText(String column) {
            return text(exact(column));
        }
    }

    /** Dates, times and what only the database knows: read as its text. */
    private static final class Written extends MariaDbCodec {
        Written(ColumnType type) {
            super(type);
        }

        @Override
        public String exact(String column) {
            return text(column);
        }

        /** The database writes all digits of the fraction; Java's types have no trailing zeros, and neither needs them. */
        @Override
        public Object readExact(ResultSet row, int index) throws SQLException {
            String text = row.getString(index);
            if (text == null) {
                return null;
            }
            if (type().jdbcType() == Types.OTHER) {
                return type().isUuid() ? UUID.fromString(text) : text;
            }
            return type().read(text.indexOf('.') < 0 ? text : text.replaceAll("\\.?0+$", ""));
        }

        @Override
        String fromJson(String value) {
            return typeName().equals("uuid") || typeName().startsWith("inet")
                    ? "cast(" + value + " as " + typeName() + ")"
                    : value;
        }
    }
}
