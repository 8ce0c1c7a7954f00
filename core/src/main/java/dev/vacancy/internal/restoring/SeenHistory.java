package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.RecordContent;
import dev.vacancy.history.DeletedRecord;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.TrailRun;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * A history of which somebody may see a part only.
 *
 * @since 0.1
 */
public interface SeenHistory extends History {
    /**
     * Returns runs of some tables only, as many as the query wants of those.
     *
     * @param query which
     * @param visible tells whether runs that were about a table may be seen
     * @return the runs, the newest first
     */
    List<TrailRun> runs(HistoryQuery query, Predicate<String> visible);

    /**
     * Returns some entries only, as many as the query wants of those.
     *
     * @param query which
     * @param mayTell tells whether entries of a table may be seen
     * @param mayKnow tells whether an entry may be seen
     * @return the entries, the newest run first
     */
    List<TrailEntry> entries(HistoryQuery query, Predicate<String> mayTell, Predicate<TrailEntry> mayKnow);

    /**
     * Lists some soft-deleted records only, as many as the query wants of those.
     *
     * @param query which table
     * @param mayKnow tells whether a record may be seen; empty where all may
     * @return the records
     */
    List<DeletedRecord> deleted(HistoryQuery query, Optional<Predicate<RecordContent>> mayKnow);
}
