package dev.vacancy.internal.chunking;

import java.util.List;

/**
 * A selected record that this worker has claimed.
 *
 * @param place where it stands in the run
 * @param key its key, a value for each column
 * @param begun what is done of it already
 */
record ClaimedRecord(long place, List<Object> key, Begun begun) {}
