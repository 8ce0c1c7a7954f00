package dev.vacancy.internal.trail;

import java.util.UUID;

/**
 * The ids of runs, and the numbers that entries name them by.
 *
 * @since 0.1
 */
public final class RunNumber {
    private static final int RANDOM_BITS = 20;

    private RunNumber() {}

    /**
     * Makes the id of a new run: a UUID of version 8 (RFC 9562 §5.8) that begins at random, as people name runs by the first digits, and has
     * the time behind that, so that what is written later stands behind what was written before.
     *
     * @return the id
     */
    public static UUID newId() {
        UUID random = UUID.randomUUID();
        long time = System.currentTimeMillis();
        long most = (random.getMostSignificantBits() & 0xffff_ffff_0000_0000L)
                | ((time >>> 28) & 0xffff) << 16
                | 8L << 12
                | ((time >>> 16) & 0xfff);
        long least = 1L << 63 | (time & 0xffff) << 46 | (random.getLeastSignificantBits() & ((1L << 46) - 1));
        return new UUID(most, least);
    }

    /**
     * Numbers a run: entries name it by eight bytes instead of 36 characters.
     *
     * @param run the run's id
     * @return its number; of an id that {@link #newId} gives, the time and a part of what is random in it
     */
    public static long of(UUID run) {
        long most = run.getMostSignificantBits();
        long least = run.getLeastSignificantBits();
        if (run.version() != 8) {
            return most ^ least;
        }
        long time = ((most >>> 16) & 0xffff) << 28 | (most & 0xfff) << 16 | ((least >>> 46) & 0xffff);
        return time << RANDOM_BITS | (least & ((1L << RANDOM_BITS) - 1));
    }
}
