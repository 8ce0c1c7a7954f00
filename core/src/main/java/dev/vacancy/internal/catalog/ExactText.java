package dev.vacancy.internal.catalog;

import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.sql.Types;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.util.HexFormat;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Values between the text that a database writes for them and Java's own types. A text becomes a value of a Java type only
 * if that is written back as the very same text; else the text itself stands for the value. So whatever was read is what
 * is sent back.
 */
final class ExactText {
    private static final String BINARY = "\\x";
    private static final DateTimeFormatter TIMESTAMP = new DateTimeFormatterBuilder()
            .append(DateTimeFormatter.ISO_LOCAL_DATE)
            .appendLiteral(' ')
            .append(DateTimeFormatter.ISO_LOCAL_TIME)
            .toFormatter();
    private static final DateTimeFormatter ZONED = new DateTimeFormatterBuilder()
            .append(TIMESTAMP)
            .appendOffset("+HH:mm:ss", "+00")
            .toFormatter();

    private ExactText() {}

    /** Reads a text as a value of a Java type, if nothing is lost by that. */
    static Object read(ColumnType type, String text) {
        try {
            Object value = meant(type, text);
            // Databases write the shortest digits that make the same number again, and so does Java.
            return value instanceof Double
                            || value instanceof Float
                            || of(value).equals(text)
                    ? value
                    : text;
        } catch (DateTimeException | IllegalArgumentException otherwise) {
            return text;
        }
    }

    /** Writes a value the way PostgreSQL, H2 and SQLite write it themselves; one that is text already as it is. */
    static String of(Object value) {
        if (value instanceof LocalDateTime time) {
            return TIMESTAMP.format(time);
        }
        if (value instanceof OffsetDateTime time) {
            return ZONED.format(time);
        }
        if (value instanceof LocalTime time) {
            return DateTimeFormatter.ISO_LOCAL_TIME.format(time);
        }
        if (value instanceof BigDecimal number) {
            return number.toPlainString();
        }
        if (value instanceof ByteBuffer bytes) {
            return BINARY + HexFormat.of().formatHex(bytes(bytes));
        }
        if (value instanceof List<?> elements) {
            return elements.stream().map(ExactText::element).collect(Collectors.joining(",", "{", "}"));
        }
        return value.toString();
    }

    private static byte[] bytes(ByteBuffer buffer) {
        byte[] bytes = new byte[buffer.remaining()];
        buffer.duplicate().get(bytes);
        return bytes;
    }

    private static String element(Object value) {
        return value == null ? "NULL" : '"' + of(value).replace("\\", "\\\\").replace("\"", "\\\"") + '"';
    }

    private static Object meant(ColumnType type, String text) {
        return switch (type.jdbcType()) {
            case Types.DATE -> LocalDate.parse(text);
            case Types.TIME -> LocalTime.parse(text);
            case Types.TIMESTAMP -> type.isZoned() ? ZONED.parse(text, OffsetDateTime::from) : timestamp(text);
            case Types.TIMESTAMP_WITH_TIMEZONE -> ZONED.parse(text, OffsetDateTime::from);
            case Types.NUMERIC, Types.DECIMAL -> new BigDecimal(text);
            case Types.REAL -> Float.valueOf(text);
            case Types.FLOAT, Types.DOUBLE -> Double.valueOf(text);
            case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY ->
                text.startsWith(BINARY)
                        ? ByteBuffer.wrap(HexFormat.of().parseHex(text.substring(BINARY.length())))
                                .asReadOnlyBuffer()
                        : text;
            default -> text;
        };
    }

    private static LocalDateTime timestamp(String text) {
        return TIMESTAMP.parse(text, LocalDateTime::from);
    }
}
