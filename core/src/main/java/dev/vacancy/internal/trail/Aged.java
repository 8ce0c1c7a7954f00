package dev.vacancy.internal.trail;

/**
 * Up to where the trail was aged: where the chain begins now.
 *
 * @param place the place of the last run that was removed
 * @param digest what it bore
 * @since 0.1
 */
public record Aged(long place, String digest) {
    /**
     * Reads what {@link #toString} gives.
     *
     * @param words the words of an ageing's selection
     * @return the same
     */
    static Aged of(String words) {
        String[] until = words.split(" ", 2);
        return new Aged(Long.parseLong(until[0]), until[1]);
    }

    @Override
    public String toString() {
        return place + " " + digest;
    }
}
