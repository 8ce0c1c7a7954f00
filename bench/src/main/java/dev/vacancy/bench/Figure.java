package dev.vacancy.bench;

import java.util.List;

/**
 * What one contender took.
 *
 * @param store the database
 * @param label the contender, or the part of its work that was timed
 * @param hives how many hives were deleted
 * @param millis the median over all rounds
 * @param fastest the fastest round
 * @param bytesEach allocated in this process, for each record that went; with an embedded database, by that as well
 */
record Figure(String store, String label, int hives, double millis, double fastest, double bytesEach) {
    /** The one in the middle. */
    static double median(List<Double> figures) {
        return figures.stream().sorted().skip(figures.size() / 2).findFirst().orElseThrow();
    }

    int records() {
        return hives * Yard.RECORDS_OF_A_HIVE;
    }
}
