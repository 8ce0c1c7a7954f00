package dev.vacancy.internal.trail;

import java.util.UUID;

/**
 * Which entry of the trail is meant, of whatever run and record: no two ever have the same.
 *
 * @param run the number of its run
 * @param step the run's step, from 1; 0 for the run itself
 * @param place its place in the step, from 1; 0 for the run itself
 * @since 0.1
 */
public record Reference(long run, int step, long place) {
    private static final int RANDOM_BITS = 20;

    /**
     * Refers to a run.
     *
     * @param run its number
     * @return the reference
     */
    public static Reference toRun(long run) {
        return new Reference(run, 0, 0);
    }

    /**
     * Tells whether a run is meant and not an entry.
     *
     * @return true for what {@link #toRun} gives
     */
    public boolean isToRun() {
        return step == 0;
    }

    /**
     * Makes the id of a new run: a UUID of version 8 (RFC 9562 §5.8) that begins at random, as people name runs by the first digits, and has
     * the time behind that, so that what is written later stands behind what was written before.
     *
     * @return the id
     */
    public static UUID newRun() {
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
     * @return its number; of an id that {@link #newRun} gives, the time and a part of what is random in it
     */
    public static long number(UUID run) {
        long most = run.getMostSignificantBits();
        long least = run.getLeastSignificantBits();
        if (run.version() != 8) {
            return most ^ least;
        }
        long time = ((most >>> 16) & 0xffff) << 28 | (most & 0xfff) << 16 | ((least >>> 46) & 0xffff);
        return time << RANDOM_BITS | (least & ((1L << RANDOM_BITS) - 1));
    }

    @Override
    public String toString() {
        return run + " " + step + " " + place;
    }
}
