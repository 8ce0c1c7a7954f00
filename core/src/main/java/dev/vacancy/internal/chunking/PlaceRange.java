package dev.vacancy.internal.chunking;

import java.util.List;

/**
 * A stretch of a run's records.
 *
 * @param first the first place
 * @param last the last place
 * @param most how many records to take of it
 */
record PlaceRange(long first, long last, int most) {
    static PlaceRange all(int most) {
        return new PlaceRange(0, Long.MAX_VALUE, most);
    }

    static PlaceRange of(List<ClaimedRecord> claimed) {
        return new PlaceRange(
                claimed.get(0).place(), claimed.get(claimed.size() - 1).place(), claimed.size());
    }
}
