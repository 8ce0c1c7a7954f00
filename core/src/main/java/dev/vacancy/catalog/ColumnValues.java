package dev.vacancy.catalog;

import dev.vacancy.failure.InvalidRequestException;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.sql.Types;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.HexFormat;
import java.util.Locale;
import java.util.UUID;
import java.util.regex.Pattern;

/** Turns what a caller gives into a value of a column's type, or says why it can't be one. */
final class ColumnValues {
    private static final Pattern WHOLE_NUMBER = Pattern.compile("-?(0|[1-9][0-9]{0,18})");
    private static final Pattern DECIMAL = Pattern.compile("-?[0-9]{1,100}(\\.[0-9]{1,100})?");
    private static final int LONGEST_QUOTE = 40;

    private ColumnValues() {}

    static Object convert(Table table, Column column, Object given) {
        if (given == null) {
            throw new InvalidRequestException(
                    table.name() + "." + column.name() + " is given no value.",
                    "Give a value; null never stands for a record.");
        }
        try {
            return convert(column, given);
        } catch (IllegalArgumentException | ArithmeticException | DateTimeException wrong) {
            throw new InvalidRequestException(
                    table.name() + "." + column.name() + " is " + column.type() + ", which '" + quoted(given.toString())
                            + "' is not.",
                    "Give " + expected(column) + ".");
        }
    }

    static Object comparable(Column column, Object value) {
        if (value instanceof BigDecimal decimal) {
            return decimal.stripTrailingZeros();
        }
        if (value instanceof Long || value instanceof Integer || value instanceof Short || value instanceof Byte) {
            return ((Number) value).longValue();
        }
        if (value instanceof Float single) {
            return single.doubleValue();
        }
        if (value instanceof OffsetDateTime time) {
            return time.toInstant();
        }
        if (value instanceof String text) {
            String unpadded = column.jdbcType() == Types.CHAR ? text.stripTrailing() : text;
            return ignoresCase(column) ? unpadded.toLowerCase(Locale.ROOT) : unpadded;
        }
        return value;
    }

    private static Object convert(Column column, Object given) {
        String text = given.toString();
        if (isUuid(column)) {
            return uuid(text);
        }
        return switch (column.jdbcType()) {
            case Types.TINYINT, Types.SMALLINT ->
                Short.valueOf(exact(whole(text)).shortValueExact());
            case Types.INTEGER -> exact(whole(text)).intValueExact();
            case Types.BIGINT -> exact(whole(text)).longValueExact();
            case Types.DECIMAL, Types.NUMERIC -> new BigDecimal(matching(DECIMAL, text));
            case Types.REAL, Types.FLOAT, Types.DOUBLE -> Double.valueOf(matching(DECIMAL, text));
            case Types.CHAR, Types.VARCHAR, Types.LONGVARCHAR, Types.NCHAR, Types.NVARCHAR -> encodable(text);
            case Types.DATE -> LocalDate.parse(text);
            case Types.TIME -> LocalTime.parse(text);
            case Types.TIMESTAMP -> column.isZoned() ? OffsetDateTime.parse(text) : LocalDateTime.parse(text);
            case Types.TIMESTAMP_WITH_TIMEZONE -> OffsetDateTime.parse(text);
            case Types.BOOLEAN, Types.BIT -> truth(text);
            case Types.BINARY, Types.VARBINARY ->
                given instanceof String
                        ? ByteBuffer.wrap(HexFormat.of().parseHex(text)).asReadOnlyBuffer()
                        : given;
            default -> given;
        };
    }

    private static String expected(Column column) {
        if (isUuid(column)) {
            return "a UUID as in RFC 9562, such as 018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b10";
        }
        return switch (column.jdbcType()) {
            case Types.TINYINT, Types.SMALLINT -> "a whole number from -32768 to 32767, such as 12";
            case Types.INTEGER -> "a whole number from -2147483648 to 2147483647, such as 12";
            case Types.BIGINT -> "a whole number of at most 19 digits, such as 12";
            case Types.DECIMAL, Types.NUMERIC, Types.REAL, Types.FLOAT, Types.DOUBLE -> "a number, such as 12 or 12.5";
            case Types.CHAR, Types.VARCHAR, Types.LONGVARCHAR, Types.NCHAR, Types.NVARCHAR ->
                "text without NUL characters and with whole Unicode characters only";
            case Types.DATE -> "a date as in ISO 8601, such as 2026-05-31";
            case Types.TIME -> "a time as in ISO 8601, such as 14:30:00";
            case Types.TIMESTAMP, Types.TIMESTAMP_WITH_TIMEZONE ->
                column.isZoned()
                        ? "a time with its offset as in ISO 8601, such as 2026-05-31T14:30:00+02:00"
                        : "a date and time as in ISO 8601, such as 2026-05-31T14:30:00";
            case Types.BOOLEAN, Types.BIT -> "true or false";
            case Types.BINARY, Types.VARBINARY -> "hexadecimal digits, two for each byte";
            default -> "a value of that type";
        };
    }

    private static BigInteger exact(String digits) {
        return new BigInteger(digits);
    }

    private static String whole(String text) {
        return matching(WHOLE_NUMBER, text);
    }

    private static String matching(Pattern pattern, String text) {
        if (!pattern.matcher(text).matches()) {
            throw new IllegalArgumentException(text);
        }
        return text;
    }

    private static String encodable(String text) {
        try {
            StandardCharsets.UTF_8.newEncoder().encode(CharBuffer.wrap(text));
        } catch (CharacterCodingException halfCharacter) {
            throw new IllegalArgumentException(text, halfCharacter);
        }
        if (text.indexOf('\0') >= 0) {
            throw new IllegalArgumentException(text);
        }
        return text;
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

    private static boolean isUuid(Column column) {
        return column.type().equalsIgnoreCase("uuid");
    }

    private static boolean ignoresCase(Column column) {
        String type = column.type().toLowerCase(Locale.ROOT);
        return type.contains("ignorecase") || type.equals("citext");
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
