package dev.vacancy.dialect;

import java.nio.ByteBuffer;
import java.sql.Array;
import java.sql.Blob;
import java.sql.Clob;
import java.sql.Date;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Time;
import java.sql.Timestamp;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/** Turns what a driver gives into values that outlive the result. */
final class Values {
    private Values() {}

    static Object detached(ResultSet row, int index) throws SQLException {
        Object value = row.getObject(index);
        if (value == null) {
            return null;
        }
        return isPlatformType(value) ? detached(value) : row.getString(index);
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
            return elements((Object[]) array.getArray());
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
            elements.add(element == null ? null : detached(element));
        }
        return Collections.unmodifiableList(elements);
    }
}
