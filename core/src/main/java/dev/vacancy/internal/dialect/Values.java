package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.nio.ByteBuffer;
import java.sql.Array;
import java.sql.Blob;
import java.sql.Clob;
import java.sql.Date;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Time;
import java.sql.Timestamp;
import java.sql.Types;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/** Turns what a driver gives into values that outlive the result. */
final class Values {
    private Values() {}

    /**
     * Reads dates and times as what they are: {@link java.sql.Timestamp} and its kin go by the virtual machine's time zone,
     * in which some of them don't exist.
     */
    static Object detached(ResultSet row, int index, ColumnType type) throws SQLException {
        return switch (type.jdbcType()) {
            case Types.DATE -> temporal(row, index, LocalDate.class);
            case Types.TIME -> temporal(row, index, LocalTime.class);
            case Types.TIMESTAMP -> temporal(row, index, type.isZoned() ? OffsetDateTime.class : LocalDateTime.class);
            default -> detached(row, index);
        };
    }

    static Object detached(ResultSet row, int index) throws SQLException {
        Object value = row.getObject(index);
        if (value == null) {
            return null;
        }
        return isPlatformType(value) ? detached(value) : row.getString(index);
    }

    /** What Java's type can't hold, such as 24:00 or infinity, comes as its text. */
    private static Object temporal(ResultSet row, int index, Class<?> type) throws SQLException {
        try {
            Object value = row.getObject(index, type);
            boolean endless = LocalDate.MAX.equals(value)
                    || LocalDate.MIN.equals(value)
                    || LocalDateTime.MAX.equals(value)
                    || LocalDateTime.MIN.equals(value)
                    || OffsetDateTime.MAX.equals(value)
                    || OffsetDateTime.MIN.equals(value);
            return endless ? row.getString(index) : value;
        } catch (SQLException | DateTimeException otherwise) {
            return row.getString(index);
        }
    }

    private static Object detached(Object value) throws SQLException {
        if (value instanceof Date date) {
            return date.toLocalDate();
        }
        if (value instanceof Timestamp timestamp) {
            return timestamp.toLocalDateTime();
        }
        if (value instanceof Time time) {
            return time.toLocalTime();
        }
        if (value instanceof Clob text) {
            return text.getSubString(1, Math.toIntExact(text.length()));
        }
        if (value instanceof Blob bytes) {
            return readOnly(bytes.getBytes(1, Math.toIntExact(bytes.length())));
        }
        if (value instanceof byte[] bytes) {
            return readOnly(bytes);
        }
        if (value instanceof Array array) {
            return array.getArray() instanceof Object[] objects ? elements(objects) : array.toString();
        }
        return value;
    }

    private static boolean isPlatformType(Object value) {
        return value instanceof Clob
                || value instanceof Blob
                || value instanceof Array
                || value instanceof byte[]
                || value.getClass().getName().startsWith("java.");
    }

    private static ByteBuffer readOnly(byte[] bytes) {
        return ByteBuffer.wrap(bytes).asReadOnlyBuffer();
    }

    private static List<Object> elements(Object[] array) throws SQLException {
        List<Object> elements = new ArrayList<>();
        for (Object element : array) {
            elements.add(
                    element == null ? null : element instanceof Object[] inner ? elements(inner) : detached(element));
        }
        return Collections.unmodifiableList(elements);
    }
}
