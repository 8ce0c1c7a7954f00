package dev.vacancy.trace;

import java.util.List;
import java.util.Optional;

/**
 * One part of what is known of a person.
 *
 * @param relation what it has to do with the person
 * @param table the table of the records; of a run's words the one that the run is about
 * @param where where it stands: the table for the person's own record, the foreign key such as {@code placement.keeper_id} of records that refer
 *     to another, the column of a text, the table whose entries the audit trail or a bulk run has, the name of a follow-up
 * @param under the table of the records that these ones refer to; empty where they don't hang on any
 * @param count how many records, entries or places: 1 or more
 * @param treatment what an erasure does with it
 * @param reason why, where it is kept or forbids the erasure
 * @param samples the first few of them, for people
 * @since 0.1
 */
public record TracePart(
        Relation relation,
        String table,
        String where,
        Optional<String> under,
        long count,
        Treatment treatment,
        Optional<String> reason,
        List<String> samples) {
    /** Keeps its own copy of the samples. */
    public TracePart {
        samples = List.copyOf(samples);
    }

    /**
     * Says what it is.
     *
     * @return such as {@code inspection.keeper_id: 14, mentions it, detached}
     */
    @Override
    public String toString() {
        return where + ": " + count + ", " + relation + ", " + treatment
                + reason.map(why -> " (" + why + ")").orElse("");
    }
}
