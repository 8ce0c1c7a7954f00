package dev.vacancy.internal.catalog;

import dev.vacancy.catalog.Column;
import java.sql.Types;
import java.util.Locale;

/**
 * The type of a column, as far as its values have to be read, sent back and compared without loss.
 *
 * @param name the database's own name of the type, such as {@code INTEGER} or {@code int4}
 * @param jdbcType the type as one of {@link Types}; for a domain, that of the type beneath it
 * @param size the most characters, bytes or digits; 0 where the type has no limit
 * @param scale the most digits behind the point, of a number or of a second
 * @param castable what a cast names so that each value of the column survives it
 * @param collation what text is compared by, in the database's own words; empty where that is the usual
 * @param finest the most digits behind the second that the database tells apart in any column
 * @param ownForm a regular expression for what the database writes and Java can't read, such as {@code infinity}; empty for
 *     nothing
 * @since 0.1
 */
public record ColumnType(
        String name, int jdbcType, int size, int scale, String castable, String collation, int finest, String ownForm) {
    /** The {@link #ownForm()} of a column that takes whatever comes. */
    public static final String ANY_TEXT = "(?s).*";

    private static final int NANOSECONDS = 9;

    /**
     * Describes a type by its metadata alone.
     *
     * @param name the database's name of the type
     * @param jdbcType one of {@link Types}
     * @param size the most characters, bytes or digits; 0 for no limit
     * @param scale the most digits behind the point
     * @return the type; a cast names it the same
     */
    public static ColumnType of(String name, int jdbcType, int size, int scale) {
        return new ColumnType(name, jdbcType, size, scale, name, "", NANOSECONDS, "");
    }

    /**
     * Returns this type with other words for a cast.
     *
     * @param words what a cast names
     * @return the type
     */
    public ColumnType castAs(String words) {
        return new ColumnType(name, jdbcType, size, scale, words, collation, finest, ownForm);
    }

    /**
     * Tells whether the column holds text, large objects not among it.
     *
     * @return true for character types
     */
    public boolean isText() {
        return switch (jdbcType) {
            case Types.CHAR, Types.VARCHAR, Types.LONGVARCHAR, Types.NCHAR, Types.NVARCHAR, Types.LONGNVARCHAR ->
                !isEnumeration();
            default -> false;
        };
    }

    /**
     * Tells whether the column holds text that is stored as a large object.
     *
     * @return true for large objects of characters
     */
    public boolean isLargeText() {
        return jdbcType == Types.CLOB || jdbcType == Types.NCLOB;
    }

    /**
     * Tells whether the column holds one of a few words.
     *
     * @return true for an enumeration
     */
    public boolean isEnumeration() {
        String known = name.toUpperCase(Locale.ROOT);
        return known.startsWith("ENUM") || known.equals("SET");
    }

    /**
     * Tells whether text of fixed width ends in blanks that mean nothing.
     *
     * @return true for {@code CHAR(n)}
     */
    public boolean isPadded() {
        return jdbcType == Types.CHAR || jdbcType == Types.NCHAR;
    }

    /**
     * Tells whether the column holds bytes.
     *
     * @return true for binary types
     */
    public boolean isBinary() {
        return !isUuid()
                && switch (jdbcType) {
                    case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY, Types.BLOB -> true;
                    default -> false;
                };
    }

    /**
     * Tells whether the column holds whole numbers.
     *
     * @return true for integer types of any width, signed or not
     */
    public boolean isInteger() {
        return switch (jdbcType) {
            case Types.TINYINT, Types.SMALLINT, Types.INTEGER, Types.BIGINT -> true;
            default -> false;
        };
    }

    /**
     * Tells whether whole numbers begin at 0.
     *
     * @return true for an unsigned type
     */
    public boolean isUnsigned() {
        return name.toUpperCase(Locale.ROOT).contains("UNSIGNED");
    }

    /**
     * Tells whether the column holds binary floating-point numbers (IEEE 754).
     *
     * @return true for single and double precision
     */
    public boolean isFloating() {
        return jdbcType == Types.REAL || jdbcType == Types.FLOAT || jdbcType == Types.DOUBLE;
    }

    /**
     * Tells whether the column holds UUIDs (RFC 9562).
     *
     * @return true for the database's own type
     */
    public boolean isUuid() {
        return name.equalsIgnoreCase("uuid");
    }

    /**
     * Tells whether the column holds points in time with their offset from UTC.
     *
     * @return true for a timestamp with time zone
     */
    public boolean isZoned() {
        return jdbcType == Types.TIMESTAMP_WITH_TIMEZONE || name.equalsIgnoreCase("timestamptz");
    }

    /**
     * Tells whether a text is one that the database writes for a value that no Java type holds.
     *
     * @param text the text
     * @return true if it can be sent back as it is
     */
    public boolean isOwnForm(String text) {
        return !ownForm.isEmpty() && text.matches(ownForm);
    }

    /**
     * Tells whether times and UUIDs are kept as text, in which another spelling is another value.
     *
     * @return true if the database has no types for them
     */
    public boolean keepsSpelling() {
        return ownForm.equals(ANY_TEXT);
    }

    /**
     * Writes a value the way the database's own functions do.
     *
     * @param value a value
     * @return its text
     */
    public static String spelling(Object value) {
        return ExactText.of(value);
    }

    /**
     * Returns the value that a text of the database's own stands for.
     *
     * @param text what the database writes for a value of this type
     * @return a value that is written as the very same text; the text itself where Java has none
     */
    public Object read(String text) {
        return ExactText.read(this, text);
    }

    @Override
    public String toString() {
        return name;
    }

    /**
     * Returns the type of a column.
     *
     * @param column the column
     * @return its type
     */
    public static ColumnType of(Column column) {
        return CatalogColumn.of(column).type();
    }
}
