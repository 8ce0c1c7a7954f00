package dev.vacancy.internal.chunking;

import dev.vacancy.internal.dialect.ServerNumber;
import java.util.ArrayList;
import java.util.List;

/**
 * A stretch of a run's records.
 *
 * @param first the first place
 * @param last the last place
 * @param most how many records to take of it
 * @param backwards whether to take the last ones first
 */
record PlaceRange(long first, long last, int most, boolean backwards) {
    private static final int SHARE_OF_OTHERS = 4;

    static PlaceRange all(int most) {
        return new PlaceRange(0, Long.MAX_VALUE, most, false);
    }

    static PlaceRange of(List<ClaimedRecord> claimed) {
        long first = claimed.stream().mapToLong(ClaimedRecord::place).min().orElseThrow();
        long last = claimed.stream().mapToLong(ClaimedRecord::place).max().orElseThrow();
        return new PlaceRange(first, last, claimed.size(), false);
    }

    /**
     * Gives each of several servers a stretch of its own, as none sees what another has claimed. Whoever is through with it takes from the
     * ends of the others', as far away as possible from where they are, and less at a time: where two meet after all, less is done in vain.
     *
     * @param records how many records there are in all
     * @param server which of the servers this is
     * @param most how many records to take
     * @return the stretches in the order in which to look into them
     */
    static List<PlaceRange> of(long records, ServerNumber server, int most) {
        List<PlaceRange> ranges = new ArrayList<>();
        for (int i = 0; i < server.of(); i++) {
            int part = (server.index() + i) % server.of();
            long first = records * part / server.of() + 1;
            long last = records * (part + 1) / server.of();
            ranges.add(new PlaceRange(first, last, i == 0 ? most : Math.max(1, most / SHARE_OF_OTHERS), i > 0));
        }
        return ranges;
    }
}
