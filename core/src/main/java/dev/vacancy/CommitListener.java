package dev.vacancy;

import dev.vacancy.bulk.BulkRun;
import dev.vacancy.history.RestoreOutcome;

/**
 * Is told what has been committed, and nothing before: to refresh a page, drop what a cache holds, notify somebody, or update a
 * search index. It is called on the thread that committed. Whatever it throws is logged, and neither undoes nor hinders
 * anything.
 *
 * @since 0.1
 */
public interface CommitListener {
    /**
     * Is told of a deletion, a purge or an emptied table.
     *
     * @param outcome what happened
     */
    default void deleted(Outcome outcome) {}

    /**
     * Is told of records that came back.
     *
     * @param outcome what happened
     */
    default void restored(RestoreOutcome outcome) {}

    /**
     * Is told of a bulk run, each time that a chunk of it was committed here.
     *
     * @param run the run as it stands
     */
    default void progressed(BulkRun run) {}
}
