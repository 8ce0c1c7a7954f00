package dev.vacancy;

import dev.vacancy.catalog.RecordContent;
import java.util.List;
import java.util.stream.Collectors;

/**
 * A selected record that is left out because child records forbid its deletion.
 *
 * @param root the record, which stays with all that depends on it
 * @param blockers who forbids it; each counts the children below this record only
 * @since 0.1
 */
public record Skipped(RecordContent root, List<Blocker> blockers) {
    /** Keeps its own copy of the blockers. */
    public Skipped {
        blockers = List.copyOf(blockers);
    }

    /**
     * Says which record stays and why.
     *
     * @return such as {@code hive 4 'Fellside Four': 2 records of batch_hive forbid it by batch_hive.hive_id: a sold batch
     *     must stay traceable}
     */
    public String text() {
        return root.table() + " " + Sample.of(root) + ": "
                + blockers.stream().map(Blocker::text).collect(Collectors.joining("; "));
    }
}
