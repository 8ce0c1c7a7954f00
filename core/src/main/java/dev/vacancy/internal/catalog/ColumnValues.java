package dev.vacancy.internal.catalog;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.sql.Types;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.temporal.Temporal;
import java.util.Arrays;
import java.util.Collection;
import java.util.Collections;
import java.util.HexFormat;
import java.util.Locale;
import java.util.Map;
import java.util.UUID;
import java.util.regex.Pattern;

/** Turns what a caller gives into a value of a column's type, or says why it can't be one. */
final class ColumnValues {
    private static final Pattern WHOLE_NUMBER = Pattern.compile("-?(0|[1-9][0-9]{0,19})");
    private static final Pattern DECIMAL = Pattern.compile("-?[0-9]{1,1000}(\\.[0-9]{1,1000})?");
    private static final Pattern FLOATING = Pattern.compile(DECIMAL.pattern() + "([eE][+-]?[0-9]{1,4})?");
    private static final int MOST_DIGITS = 20_000;
    private static final int LONGEST_QUOTE = 40;
    private static final Map<Integer, Integer> BITS = Map.of(
            Types.TINYINT, Byte.SIZE, Types.SMALLINT, Short.SIZE, Types.INTEGER, Integer.SIZE, Types.BIGINT, Long.SIZE);

    private ColumnValues() {}

    static Object convert(Table table, Column column, Object given) {
        if (given == null) {
            throw new InvalidRequestException(
                            FailureCode.MISSING_VALUE,
                            table.name() + "." + column.name() + " is given no value.",
                            "Give a value; null never stands for a record.")
                    .about("table", table.name())
                    .about("column", column.name());
        }
        Object modern = GivenValues.modern(given);
        try {
            return spelled(ColumnType.of(column), modern, convert(ColumnType.of(column), modern));
        } catch (IllegalArgumentException | ArithmeticException | DateTimeException wrong) {
            if (isOwnForm(ColumnType.of(column), modern)) {
                return modern instanceof Number || modern instanceof ByteBuffer ? modern : modern.toString();
            }
            throw new InvalidRequestException(
                            FailureCode.VALUE_TYPE,
                            table.name() + "." + column.name() + " is " + ColumnType.of(column) + ", which '"
                                    + quoted(GivenValues.text(given)) + "' is not.",
                            "Give " + expected(ColumnType.of(column)) + ".")
                    .about("table", table.name())
                    .about("column", column.name())
                    .about("type", ColumnType.of(column))
                    .about("value", quoted(GivenValues.text(given)));
        }
    }

    private static boolean isOwnForm(ColumnType type, Object given) {
        return given instanceof ByteBuffer
                ? type.keepsSpelling()
                : type.isOwnForm(given.toString()) && isEncodable(given.toString());
    }

    /** Where times are kept as text, another spelling is another value: there a text stands for itself. */
    private static Object spelled(ColumnType type, Object given, Object value) {
        boolean other = type.keepsSpelling()
                && given instanceof String
                && !ColumnType.spelling(value).equals(given);
        return other && (value instanceof Temporal || value instanceof UUID) ? given : value;
    }

    private static Object convert(ColumnType type, Object given) {
        if (given instanceof Number && type.name().isEmpty()) {
            return given;
        }
        if (given instanceof ByteBuffer && !type.isBinary()) {
            throw new IllegalArgumentException("bytes");
        }
        String text = given instanceof ByteBuffer ? "" : given.toString();
        if (type.isUuid()) {
            return uuid(text);
        }
        return switch (type.jdbcType()) {
            case Types.TINYINT, Types.SMALLINT, Types.INTEGER, Types.BIGINT -> whole(type, number(given, WHOLE_NUMBER));
            case Types.DECIMAL, Types.NUMERIC ->
                number(given, type.name().equalsIgnoreCase("DECFLOAT") ? FLOATING : DECIMAL);
            case Types.REAL, Types.FLOAT, Types.DOUBLE -> floating(type, number(given, FLOATING));
            case Types.CHAR, Types.VARCHAR, Types.LONGVARCHAR, Types.NCHAR, Types.NVARCHAR -> encodable(text);
            case Types.DATE -> LocalDate.parse(text);
            case Types.TIME -> LocalTime.parse(text);
            case Types.TIMESTAMP -> type.isZoned() ? zoned(type, text) : LocalDateTime.parse(iso(text));
            case Types.TIMESTAMP_WITH_TIMEZONE -> zoned(type, text);
            case Types.BOOLEAN -> truth(text);
            case Types.BIT -> type.size() > 1 ? whole(type, number(given, WHOLE_NUMBER)) : bit(text);
            case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY, Types.BLOB -> binary(given, text);
            case Types.ARRAY -> list(given);
            default -> other(given, text);
        };
    }

    private static Object binary(Object given, String text) {
        if (given instanceof ByteBuffer) {
            return given;
        }
        if (!(given instanceof CharSequence)) {
            throw new IllegalArgumentException(text);
        }
        return ByteBuffer.wrap(HexFormat.of().parseHex(text)).asReadOnlyBuffer();
    }

    private static Object list(Object given) {
        if (given instanceof Object[] elements) {
            return Collections.unmodifiableList(Arrays.asList(elements));
        }
        if (!(given instanceof Collection<?>)) {
            throw new IllegalArgumentException(given.toString());
        }
        return given;
    }

    private static Object bit(String text) {
        return truth(text) ? BigInteger.ONE : BigInteger.ZERO;
    }

    private static Object other(Object given, String text) {
        return given instanceof Object[] || given instanceof Collection<?> ? list(given) : encodable(text);
    }

    private static String expected(ColumnType type) {
        if (type.isUuid()) {
            return "a UUID as in RFC 9562, such as 018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b10";
        }
        if (type.isInteger()) {
            return "a whole number from " + lowest(type) + " to " + highest(type) + ", such as 12";
        }
        return switch (type.jdbcType()) {
            case Types.DECIMAL, Types.NUMERIC, Types.REAL, Types.FLOAT, Types.DOUBLE -> "a number, such as 12 or 12.5";
            case Types.CHAR, Types.VARCHAR, Types.LONGVARCHAR, Types.NCHAR, Types.NVARCHAR ->
                "text without NUL characters and with whole Unicode characters only";
            case Types.DATE -> "a date as in ISO 8601, such as 2026-05-31";
            case Types.TIME -> "a time as in ISO 8601, such as 14:30:00";
            case Types.TIMESTAMP, Types.TIMESTAMP_WITH_TIMEZONE ->
                type.isZoned()
                        ? "a time with its offset as in ISO 8601, such as 2026-05-31T14:30:00+02:00"
                        : "a date and time as in ISO 8601, such as 2026-05-31T14:30:00";
            case Types.BOOLEAN -> "true or false";
            case Types.BIT -> type.size() > 1 ? "a whole number, such as 12" : "true or false";
            case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY, Types.BLOB ->
                "hexadecimal digits, two for each byte";
            case Types.ARRAY -> "a list of values";
            default -> "a value of that type";
        };
    }

    private static BigInteger lowest(ColumnType type) {
        return type.isUnsigned()
                ? BigInteger.ZERO
                : BigInteger.ONE.shiftLeft(BITS.get(type.jdbcType()) - 1).negate();
    }

    private static BigInteger highest(ColumnType type) {
        int bits = BITS.get(type.jdbcType()) - (type.isUnsigned() ? 0 : 1);
        return BigInteger.ONE.shiftLeft(bits).subtract(BigInteger.ONE);
    }

    /** Text must be written plainly; of a number only the value counts, so that 1.0E7 is ten million. */
    private static BigDecimal number(Object given, Pattern plain) {
        String text = given.toString();
        if (!(given instanceof Number) && !plain.matcher(text).matches()) {
            throw new IllegalArgumentException(text);
        }
        BigDecimal number = new BigDecimal(text);
        if (Math.abs((long) number.scale()) > MOST_DIGITS) {
            throw new IllegalArgumentException(text);
        }
        return number.scale() < 0 ? number.setScale(0) : number;
    }

    private static Number whole(ColumnType type, BigDecimal number) {
        BigInteger whole = number.toBigIntegerExact();
        if (type.jdbcType() == Types.BIT) {
            return whole;
        }
        if (whole.compareTo(lowest(type)) < 0 || whole.compareTo(highest(type)) > 0) {
            throw new ArithmeticException("out of range");
        }
        int bits = whole.bitLength();
        if (type.jdbcType() == Types.BIGINT) {
            return bits < Long.SIZE ? (Number) whole.longValueExact() : whole;
        }
        return bits < Integer.SIZE ? (Number) whole.intValueExact() : (Number) whole.longValueExact();
    }

    /** A number of single precision where it is one, so that it isn't rounded to one on the way. */
    private static Number floating(ColumnType type, BigDecimal number) {
        if (type.jdbcType() == Types.REAL) {
            float single = number.floatValue();
            boolean exact = Float.isFinite(single)
                    && (new BigDecimal(Float.toString(single)).compareTo(number) == 0
                            || new BigDecimal(single).compareTo(number) == 0);
            if (exact) {
                return single;
            }
        }
        double number64 = number.doubleValue();
        if (!Double.isFinite(number64)) {
            throw new ArithmeticException("out of range");
        }
        return number64;
    }

    /** MariaDB shows its points in time without their offset; a text without one is taken the way it shows them. */
    private static Object zoned(ColumnType type, String text) {
        boolean shownByTheClock = type.name().equalsIgnoreCase("timestamp");
        try {
            return OffsetDateTime.parse(iso(text));
        } catch (DateTimeException withoutOffset) {
            if (shownByTheClock) {
                return LocalDateTime.parse(iso(text));
            }
            throw withoutOffset;
        }
    }

    /** SQL has a blank where ISO 8601 has a T. */
    private static String iso(String text) {
        return text.length() > 10 && text.charAt(10) == ' ' ? text.substring(0, 10) + 'T' + text.substring(11) : text;
    }

    private static String encodable(String text) {
        if (!isEncodable(text)) {
            throw new IllegalArgumentException(text);
        }
        return text;
    }

    private static boolean isEncodable(String text) {
        return StandardCharsets.UTF_8.newEncoder().canEncode(text) && text.indexOf('\0') < 0;
    }

    private static Boolean truth(String text) {
        return switch (text.toLowerCase(Locale.ROOT)) {
            case "true" -> true;
            case "false" -> false;
            default -> throw new IllegalArgumentException(text);
        };
    }

    /** Refuses the short forms that {@link UUID#fromString} fills up with zeros. */
    private static UUID uuid(String text) {
        if (text.length() != 36) {
            throw new IllegalArgumentException(text);
        }
        return UUID.fromString(text);
    }

    /** Shows what was given on one line of bearable length, control characters made visible. */
    private static String quoted(String text) {
        StringBuilder shown = new StringBuilder();
        text.codePoints().limit(LONGEST_QUOTE).forEach(point -> {
            if (Character.isISOControl(point) || Character.getType(point) == Character.SURROGATE) {
                shown.append(String.format("\\u%04x", point));
            } else {
                shown.appendCodePoint(point);
            }
        });
        return text.codePointCount(0, text.length()) > LONGEST_QUOTE ? shown + "…" : shown.toString();
    }
}
