package dev.vacancy.internal.catalog;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.AbstractList;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.RandomAccess;
import java.util.UUID;

/**
 * Rows of values in as little memory as a long list of keys needs: a whole number takes 5 or 9 bytes, a UUID 17, a short text two more
 * than it has letters. Values of other types are kept as they are, and null too. A row is made anew each time it is read.
 *
 * <p>Rows can be appended by one thread; once the list is complete, any number of threads may read it.
 */
public final class PackedRows extends AbstractList<List<Object>> implements RandomAccess {
    /** How a value is written. */
    private static final byte INTEGER = 1;

    private static final byte LONG = 2;
    private static final byte UNIQUE_ID = 3;
    private static final byte LATIN = 4;
    private static final byte LONG_LATIN = 5;
    private static final byte UTF_16 = 6;
    private static final byte OTHER = 7;

    private static final int FIRST_ROWS = 16;
    private static final int FIRST_BYTES = 256;
    private static final int LARGEST_LATIN = 0xFF;

    private final List<Object> others = new ArrayList<>();
    private int[] starts = new int[FIRST_ROWS];
    private ByteBuffer bytes = ByteBuffer.allocate(FIRST_BYTES);
    private int size;

    /**
     * Appends a row.
     *
     * @param row its values; null is one
     */
    public void append(List<?> row) {
        if (size == starts.length) {
            starts = Arrays.copyOf(starts, size + (size >> 1));
        }
        starts[size] = bytes.position();
        for (Object value : row) {
            append(value);
        }
        size++;
    }

    @Override
    public List<Object> get(int place) {
        if (place < 0 || place >= size) {
            throw new IndexOutOfBoundsException("There is no row " + place + " of " + size + ".");
        }
        ByteBuffer row = bytes.duplicate();
        row.limit(place + 1 < size ? starts[place + 1] : bytes.position()).position(starts[place]);
        List<Object> values = new ArrayList<>(1);
        while (row.hasRemaining()) {
            values.add(read(row));
        }
        return values;
    }

    @Override
    public int size() {
        return size;
    }

    private void append(Object value) {
        if (value instanceof Integer number) {
            begin(INTEGER, Integer.BYTES).putInt(number);
        } else if (value instanceof Long number) {
            begin(LONG, Long.BYTES).putLong(number);
        } else if (value instanceof UUID id) {
            begin(UNIQUE_ID, 2 * Long.BYTES)
                    .putLong(id.getMostSignificantBits())
                    .putLong(id.getLeastSignificantBits());
        } else if (value instanceof String text) {
            append(text);
        } else {
            begin(OTHER, Integer.BYTES).putInt(others.size());
            others.add(value);
        }
    }

    private void append(String text) {
        if (isLatin(text)) {
            byte[] latin = text.getBytes(StandardCharsets.ISO_8859_1);
            if (latin.length <= Byte.MAX_VALUE) {
                begin(LATIN, 1 + latin.length).put((byte) latin.length).put(latin);
            } else {
                begin(LONG_LATIN, Integer.BYTES + latin.length)
                        .putInt(latin.length)
                        .put(latin);
            }
            return;
        }
        // Not by an encoder: half of a surrogate pair is a text too.
        begin(UTF_16, Integer.BYTES + Character.BYTES * text.length()).putInt(text.length());
        for (int i = 0; i < text.length(); i++) {
            bytes.putChar(text.charAt(i));
        }
    }

    private static boolean isLatin(String text) {
        for (int i = 0; i < text.length(); i++) {
            if (text.charAt(i) > LARGEST_LATIN) {
                return false;
            }
        }
        return true;
    }

    private ByteBuffer begin(byte form, int needed) {
        if (bytes.remaining() <= needed) {
            int larger = Math.max(bytes.capacity() + (bytes.capacity() >> 1), bytes.position() + needed + 1);
            bytes = ByteBuffer.allocate(larger).put(bytes.flip());
        }
        return bytes.put(form);
    }

    private Object read(ByteBuffer row) {
        byte form = row.get();
        return switch (form) {
            case INTEGER -> row.getInt();
            case LONG -> row.getLong();
            case UNIQUE_ID -> new UUID(row.getLong(), row.getLong());
            case LATIN -> latin(row, row.get());
            case LONG_LATIN -> latin(row, row.getInt());
            case UTF_16 -> {
                char[] text = new char[row.getInt()];
                for (int i = 0; i < text.length; i++) {
                    text[i] = row.getChar();
                }
                yield new String(text);
            }
            default -> others.get(row.getInt());
        };
    }

    private static String latin(ByteBuffer row, int length) {
        byte[] text = new byte[length];
        row.get(text);
        return new String(text, StandardCharsets.ISO_8859_1);
    }
}
