package dev.vacancy.internal.trail;

import java.util.List;
import java.util.Optional;

/**
 * Which entries of a run are looked for. What was erased from the words of runs, and which runs were pruned, isn't among them.
 *
 * @param run the run's number
 * @param table the name of their table
 * @param key the key of their record, as the trail spells it
 * @param untold the names of tables that they must not be of
 * @since 0.1
 */
public record EntriesAsked(long run, Optional<String> table, Optional<String> key, List<String> untold) {}
