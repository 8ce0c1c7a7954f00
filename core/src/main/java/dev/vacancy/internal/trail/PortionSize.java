package dev.vacancy.internal.trail;

import java.util.List;

/**
 * How many entries are read at a time: few to begin with, then as many as there is room for by the size of those before.
 *
 * @since 0.1
 */
public final class PortionSize {
    private static final long FIRST = 100;
    private static final long FASTER = 4;

    /** What may be held at a time. */
    private static final long CHARACTERS = 2_000_000;

    private final long most;
    private long rows = FIRST;

    /**
     * Begins with a few.
     *
     * @param most how many are best dealt with at a time
     */
    public PortionSize(long most) {
        this.most = most;
    }

    /**
     * Returns how many are read next.
     *
     * @return 1 or more
     */
    public long rows() {
        return rows;
    }

    /**
     * Learns from what was read.
     *
     * @param portion the last ones
     */
    public void after(List<StoredEntry> portion) {
        long characters = 0;
        for (StoredEntry entry : portion) {
            characters += entry.characters();
        }
        long average = Math.max(1, characters / Math.max(1, portion.size()));
        rows = Math.max(1, Math.min(Math.min(rows * FASTER, most), CHARACTERS / average));
    }
}
