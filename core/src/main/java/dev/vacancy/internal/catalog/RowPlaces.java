package dev.vacancy.internal.catalog;

import java.math.BigDecimal;
import java.util.List;
import java.util.Objects;
import java.util.SplittableRandom;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Finds rows of a list by their values, in 8 to 16 bytes a row. A hash table with open addressing: it holds places in the list,
 * counted from 1, and 0 where there is none.
 */
public final class RowPlaces {
    private static final int FIRST_SLOTS = 32;

    private final PackedRows rows;
    private final UnaryOperator<List<Object>> comparable;
    private final long multiplier = new SplittableRandom().nextLong() | 1;
    private int[] slots = new int[FIRST_SLOTS];
    private int known;

    /**
     * Finds the rows of a list, those that are appended later too.
     *
     * @param rows the list
     */
    public RowPlaces(PackedRows rows) {
        this(rows, UnaryOperator.identity());
    }

    /**
     * Does the same where different values may mean the same.
     *
     * @param rows the list
     * @param comparable brings the values of a row into a form in which those that mean the same are equal
     */
    public RowPlaces(PackedRows rows, UnaryOperator<List<Object>> comparable) {
        this.rows = rows;
        this.comparable = comparable;
    }

    /**
     * Tells where a row stands.
     *
     * @param row its values, in the comparable form
     * @return the place of the first that has them, from 0; -1 if none has
     */
    public int of(List<?> row) {
        learn();
        for (int slot = slot(row); slots[slot] != 0; slot = after(slot)) {
            if (at(slots[slot] - 1).equals(row)) {
                return slots[slot] - 1;
            }
        }
        return -1;
    }

    /**
     * Appends a row to the list, unless one with its values stands there.
     *
     * @param row its values, in the comparable form
     * @return false if it was there
     */
    public boolean append(List<?> row) {
        if (of(row) >= 0) {
            return false;
        }
        rows.append(row);
        return true;
    }

    private void learn() {
        if (rows.size() * 2 > slots.length) {
            slots = new int[Integer.highestOneBit(rows.size()) * 4];
            known = 0;
        }
        for (; known < rows.size(); known++) {
            int slot = slot(at(known));
            while (slots[slot] != 0) {
                slot = after(slot);
            }
            slots[slot] = known + 1;
        }
    }

    private List<Object> at(int place) {
        return comparable.apply(rows.get(place));
    }

    /** Not by their hash codes, of which anybody can make as many as they like that are the same. */
    private int slot(List<?> row) {
        long hash = 1;
        for (Object value : row) {
            hash = hash * multiplier + bits(value);
        }
        return (int) ((hash * multiplier) >>> Integer.SIZE) & (slots.length - 1);
    }

    private long bits(@Nullable Object value) {
        if (value instanceof Integer || value instanceof Long) {
            return ((Number) value).longValue();
        }
        if (value instanceof String || value instanceof BigDecimal) {
            return bits(value.toString());
        }
        return Objects.hashCode(value);
    }

    private long bits(String text) {
        long bits = 1;
        for (int i = 0; i < text.length(); i++) {
            bits = bits * multiplier + text.charAt(i);
        }
        return bits;
    }

    private int after(int slot) {
        return (slot + 1) & (slots.length - 1);
    }
}
