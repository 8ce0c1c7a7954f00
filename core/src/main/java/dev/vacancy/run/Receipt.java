package dev.vacancy.run;

import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;

/**
 * What came of an approval that travelled: kept with the run, so that whoever sends the approval again is told the same.
 *
 * @param runId the id of the run
 * @param table the table whose records were selected
 * @param at when it was done
 * @param counts how many records of each table went
 * @param marked the tables among these whose records were marked and stay
 * @param changed how many records stay with another foreign key, by link
 * @param repeated true if the approval had been redeemed before, so that nothing was deleted now
 * @since 0.1
 */
public record Receipt(
        UUID runId,
        String table,
        Instant at,
        Map<String, Long> counts,
        List<String> marked,
        Map<String, Long> changed,
        boolean repeated) {
    /** Keeps its own copies of the collections. */
    public Receipt {
        counts = Collections.unmodifiableMap(new LinkedHashMap<>(counts));
        marked = List.copyOf(marked);
        changed = Collections.unmodifiableMap(new LinkedHashMap<>(changed));
    }
}
