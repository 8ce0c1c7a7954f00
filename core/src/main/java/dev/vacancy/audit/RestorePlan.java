package dev.vacancy.audit;

import dev.vacancy.plan.By;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * What undoing a run would do.
 *
 * @param run the run; of a bulk run the last of its chunks
 * @param undone the id of what is undone, that of the bulk run if all of it is
 * @param only the record that comes back with what went with it, table and key; empty for all of the run
 * @param by who wants it undone, and why
 * @param madeAt when the plan was made
 * @param counts how many records would come back, by table, parents first
 * @param putBack how many foreign keys would be put back, by link
 * @param left what stays as it is since somebody changed it meanwhile, each a sentence
 * @param conflicts what stands in the way; of more than {@value #MOST_CONFLICTS} only the first ones
 * @param fingerprint the digest of what it would do, 64 hexadecimal digits
 * @since 0.1
 */
public record RestorePlan(
        TrailRun run,
        UUID undone,
        Optional<String> only,
        By by,
        Instant madeAt,
        Map<String, Long> counts,
        Map<String, Long> putBack,
        List<String> left,
        List<Conflict> conflicts,
        String fingerprint) {
    /** How many conflicts a plan names. */
    public static final int MOST_CONFLICTS = 1_000;

    /** Keeps its own copies of the collections. */
    public RestorePlan {
        counts = Collections.unmodifiableMap(new LinkedHashMap<>(counts));
        putBack = Collections.unmodifiableMap(new LinkedHashMap<>(putBack));
        left = List.copyOf(left);
        conflicts = List.copyOf(conflicts);
    }

    /**
     * Returns how many records would come back in all.
     *
     * @return 0 or more
     */
    public long total() {
        return counts.values().stream().mapToLong(Long::longValue).sum();
    }

    /**
     * Tells whether nothing would change.
     *
     * @return true if there is nothing to bring back
     */
    public boolean isEmpty() {
        return counts.isEmpty() && putBack.isEmpty();
    }
}
