package dev.vacancy.internal.running;

import java.util.List;
import java.util.Map;
import java.util.UUID;

/**
 * What became of the records of a bulk run that one of its runs has claimed. Those of which nothing else is said are done.
 *
 * @param bulkRun the id of the bulk run
 * @param claimed how many records were claimed
 * @param failed why some couldn't be deleted, by their places
 * @param skipped why some were left out, by their places
 * @param later why some couldn't be deleted that are tried once more, by their places
 * @param worker who has dealt with them
 * @param totals what this worker has dealt with so far, with these
 * @since 0.1
 */
public record SettledChunk(
        UUID bulkRun,
        int claimed,
        Map<Long, String> failed,
        Map<Long, String> skipped,
        Map<Long, String> later,
        UUID worker,
        Totals totals) {
    /** Keeps its own copies. */
    public SettledChunk {
        failed = Map.copyOf(failed);
        skipped = Map.copyOf(skipped);
        later = Map.copyOf(later);
    }

    /**
     * How many records somebody has dealt with.
     *
     * @param done how many selected ones are deleted
     * @param skipped how many were left out
     * @param failed how many couldn't be deleted
     * @param deleted how many were deleted in all, those that went with the selected ones among them
     */
    public record Totals(long done, long skipped, long failed, long deleted) {
        /** Of nothing. */
        public static final Totals NONE = new Totals(0, 0, 0, 0);

        /**
         * Adds two.
         *
         * @param other the others
         * @return the sum
         */
        public Totals plus(Totals other) {
            return new Totals(
                    done + other.done, skipped + other.skipped, failed + other.failed, deleted + other.deleted);
        }

        /**
         * Adds all.
         *
         * @param each those of several workers
         * @return the sum
         */
        public static Totals of(List<Totals> each) {
            return each.stream().reduce(NONE, Totals::plus);
        }
    }
}
