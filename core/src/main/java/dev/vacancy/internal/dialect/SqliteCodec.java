package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.time.DateTimeException;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.temporal.Temporal;
import java.util.Arrays;
import java.util.Locale;
import java.util.UUID;

/**
 * Codecs of SQLite. Values are stored in the few classes that it has; a column's declared type says what they mean, and any value can stand
 * in any column.
 */
class SqliteCodec implements Codec {
    /** What a driver reads where bytes are no character. */
    private static final char UNREADABLE = '\ufffd';

    private final ColumnType type;

    SqliteCodec(ColumnType type) {
        this.type = type;
    }

    static SqliteCodec of(ColumnType type) {
        if (type.isUuid()) {
            return new Uuid(type);
        }
        return switch (type.jdbcType()) {
            case Types.TIME -> new Time(type);
            case Types.TIMESTAMP -> new Timestamp(type);
            case Types.BOOLEAN -> new Truth(type);
            default -> new SqliteCodec(type);
        };
    }

    /** A column has the type that its definition names, though the driver tells text for most of them. */
    static int jdbcType(String declared, int reported) {
        String type = declared.replaceAll("\\(.*", "").strip().toUpperCase(Locale.ROOT);
        return switch (type) {
            case "DATE" -> Types.DATE;
            case "TIME" -> Types.TIME;
            case "TIMESTAMP", "DATETIME" -> Types.TIMESTAMP;
            case "BOOLEAN" -> Types.BOOLEAN;
            case "BIGINT", "INTEGER", "INT", "SMALLINT", "TINYINT" -> Types.BIGINT;
            case "NUMERIC", "DECIMAL" -> Types.NUMERIC;
            case "REAL", "DOUBLE", "FLOAT", "DOUBLE PRECISION" -> Types.DOUBLE;
            case "BLOB", "BINARY", "VARBINARY" -> Types.VARBINARY;
            // The driver calls a width fixed that SQLite knows nothing of.
            case "CHAR", "CHARACTER", "NCHAR" -> Types.VARCHAR;
            default -> reported;
        };
    }

    /** A value in the class of storage that it has. */
    static Object sent(Object value) {
        if (value instanceof Boolean truth) {
            return truth ? 1 : 0;
        }
        if (value instanceof BigInteger number) {
            return number.bitLength() < Long.SIZE ? (Object) number.longValue() : number.toString();
        }
        if (value instanceof Float number) {
            return number.doubleValue();
        }
        return value instanceof Temporal || value instanceof UUID || value instanceof BigDecimal
                ? ColumnType.spelling(value)
                : value;
    }

    @Override
    public ColumnType type() {
        return type;
    }

    @Override
    public final Fragment value(Object value) {
        return Fragment.of("?", Binding.of(sent(meant(value))));
    }

    /** A value that is spelled another way, in the spelling in which values are compared. */
    final Object meant(Object value) {
        if (!(value instanceof String text)) {
            return value;
        }
        try {
            return spelled(text);
        } catch (DateTimeException other) {
            return text;
        }
    }

    Object spelled(String text) {
        return text;
    }

    /**
     * Equal is what is spelled the same, as for the database itself; what is only meant the same is neither equal nor
     * another, so that neither picks it.
     */
    @Override
    public Fragment compared(String column, String comparison, Object value) {
        return comparison.equals("=")
                ? Fragment.of(column + " = ?", Binding.of(sent(value)))
                : Codec.super.compared(column, comparison, value);
    }

    @Override
    public boolean isTextFolded() {
        return !type.collation().isEmpty() && !type.collation().equalsIgnoreCase("binary");
    }

    /** SQLite's LIKE takes ASCII letters of either case for the same, unlike its comparisons; its GLOB doesn't. */
    @Override
    public Fragment like(String column, String pattern) {
        StringBuilder glob = new StringBuilder();
        pattern.codePoints().forEach(point -> {
            switch (point) {
                case '%' -> glob.append('*');
                case '_' -> glob.append('?');
                case '*', '?', '[' -> glob.append('[').appendCodePoint(point).append(']');
                default -> glob.appendCodePoint(point);
            }
        });
        return Fragment.of(column + " glob ?", Binding.of(glob.toString()));
    }

    @Override
    public String text(String column) {
        return "cast(" + column + " as text)";
    }

    @Override
    public String comparable(String column, ColumnType other) {
        // A cast would make a number of what a column of no type holds.
        return isTextual(other) && !isTextual(type) ? text(column) : column;
    }

    /** Whether a column of this declared type has text affinity (SQLite's documentation, "Datatypes", section 3.1). */
    private static boolean isTextual(ColumnType type) {
        String name = type.name().toUpperCase(Locale.ROOT);
        return !name.contains("INT") && (name.contains("CHAR") || name.contains("CLOB") || name.contains("TEXT"));
    }

    @Override
    public String collatedLike(String column, ColumnType parent) {
        return isTextual(type) || isTextual(parent)
                ? column + " collate " + (parent.collation().isEmpty() ? "binary" : parent.collation())
                : column;
    }

    @Override
    public final Object read(ResultSet row, int index) throws SQLException {
        return readExact(row, index);
    }

    /** What a value means to its column is taken only where it is stored as the very same. */
    @Override
    public final Object readExact(ResultSet row, int index) throws SQLException {
        Object value = Values.detached(row, index);
        return value instanceof String text ? ofText(text) : value instanceof Number number ? ofNumber(number) : value;
    }

    /** A text that stayed one in a column of numbers is none, though Java would take '1d' for it. */
    Object ofText(String text) {
        return isTextual(type) || type.isFloating() ? text : type.read(text);
    }

    Object ofNumber(Number number) {
        return number;
    }

    /** Each value has a class of storage of its own, whatever its column is declared as. */
    @Override
    public String imageText(String column) {
        return column;
    }

    @Override
    public Object readImage(ResultSet row, int index) throws SQLException {
        Object value = row.getObject(index);
        if (value instanceof String text && text.indexOf(UNREADABLE) >= 0) {
            byte[] bytes = row.getBytes(index);
            return Arrays.equals(bytes, text.getBytes(StandardCharsets.UTF_8))
                    ? text
                    : new MalformedText(ByteBuffer.wrap(bytes));
        }
        return value instanceof byte[] bytes ? ByteBuffer.wrap(bytes) : value;
    }

    @Override
    public Fragment fromImage(Object value) {
        return value instanceof MalformedText text
                ? Fragment.of("cast(? as text)", Binding.of(text.bytes()))
                : Fragment.of("?", Binding.of(value));
    }

    /** Times and UUIDs are text in any of several spellings: what is no text, or has an offset, says nothing that could be compared. */
    private static String oneSpelling(String text, String shortForms) {
        return "(case when typeof(" + text + ") <> 'text' or " + text + " glob '*[zZ]' or " + text
                + " glob '*:*[+-]*' then null " + shortForms + " when instr(" + text + ", '.') > 0 then rtrim(rtrim("
                + text + ", '0'), '.') else " + text + " end)";
    }

    private static final class Uuid extends SqliteCodec {
        Uuid(ColumnType type) {
            super(type);
        }

        @Override
        public String comparand(String column) {
            return "lower(" + column + ")";
        }

        @Override
        Object spelled(String text) {
            return text.toLowerCase(Locale.ROOT);
        }

        @Override
        Object ofText(String text) {
            try {
                UUID uuid = UUID.fromString(text);
                return uuid.toString().equals(text) ? uuid : text;
            } catch (IllegalArgumentException other) {
                return text;
            }
        }
    }

    private static final class Time extends SqliteCodec {
        Time(ColumnType type) {
            super(type);
        }

        @Override
        public String comparand(String column) {
            return oneSpelling(column, "when length(" + column + ") = 5 then " + column + " || ':00'");
        }

        @Override
        Object spelled(String text) {
            return LocalTime.parse(text);
        }
    }

    private static final class Timestamp extends SqliteCodec {
        Timestamp(ColumnType type) {
            super(type);
        }

        @Override
        public String comparand(String column) {
            String blank = "replace(" + column + ", 'T', ' ')";
            return oneSpelling(
                    blank,
                    "when length(" + column + ") = 10 then " + column + " || ' 00:00:00' when length(" + column
                            + ") = 16 then " + blank + " || ':00'");
        }

        @Override
        Object spelled(String text) {
            return LocalDateTime.parse(text.replace(' ', 'T'));
        }
    }

    private static final class Truth extends SqliteCodec {
        Truth(ColumnType type) {
            super(type);
        }

        @Override
        Object ofNumber(Number number) {
            double truth = number.doubleValue();
            return truth == 0 || truth == 1 ? (Object) (truth == 1) : number;
        }
    }
}
