package dev.vacancy;

import dev.vacancy.bulk.BulkRun;
import dev.vacancy.history.RestoreOutcome;

/**
 * Is notified of what has been committed, and of nothing before: to refresh a page, drop what a cache holds, notify somebody, or update a
 * search index. It is called on the thread that committed. Whatever it throws is logged, and neither undoes nor hinders
 * anything.
 *
 * @since 0.1
 */
public interface CommitListener {
    /**
     * Is notified of a deletion, a purge or an emptied table.
     *
     * @param outcome what happened
     */
    default void deleted(Outcome outcome) {}

    /**
     * Is notified of records that came back.
     *
     * @param outcome what happened
     */
    default void restored(RestoreOutcome outcome) {}

    /**
     * Is notified of a bulk run, each time that a chunk of it was committed here.
     *
     * @param run the run as it stands
     */
    default void progressed(BulkRun run) {}
}
