package dev.vacancy.approvals;

import dev.vacancy.Mode;
import dev.vacancy.internal.running.StoredReceipt;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;

/**
 * What came of an approval that travelled: kept with the run, so that whoever sends the approval again is told the same.
 *
 * @param runId the id of the run; of the bulk run, where it was agreed to do it in chunks
 * @param table the table whose records were selected, or whose deletion was undone
 * @param at when it was done
 * @param counts how many records of each table went or came back; of a bulk run, how many were to go when it began
 * @param marked the tables among these whose records were marked and stay
 * @param changed how many records stay with another foreign key, by link
 * @param mode the way in which it was done; in chunks, the run has only begun with this
 * @param repeated true if the approval had been redeemed before, so that nothing was done now
 * @since 0.1
 */
public record Receipt(
        UUID runId,
        String table,
        Instant at,
        Map<String, Long> counts,
        List<String> marked,
        Map<String, Long> changed,
        Mode mode,
        boolean repeated) {
    static Receipt of(StoredReceipt stored, Mode mode, boolean repeated) {
        return new Receipt(
                stored.run(),
                stored.table(),
                stored.at(),
                stored.counts(),
                stored.marked(),
                stored.changed(),
                mode,
                repeated);
    }

    /** Keeps its own copies of the collections. */
    public Receipt {
        counts = Collections.unmodifiableMap(new LinkedHashMap<>(counts));
        marked = List.copyOf(marked);
        changed = Collections.unmodifiableMap(new LinkedHashMap<>(changed));
    }
}
