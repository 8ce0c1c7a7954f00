package dev.vacancy.internal.chunking;

import java.util.List;

/**
 * A stretch of a run's records.
 *
 * @param first the first place
 * @param last the last place
 * @param most how many records to take of it
 */
record Places(long first, long last, int most) {
    static Places all(int most) {
        return new Places(0, Long.MAX_VALUE, most);
    }

    static Places of(List<Claimed> claimed) {
        return new Places(
                claimed.get(0).place(), claimed.get(claimed.size() - 1).place(), claimed.size());
    }
}
