package dev.vacancy.internal.engine;

import dev.vacancy.CommitListener;
import java.sql.Connection;

/**
 * Who follows what an engine does.
 *
 * @param committed hears of it after the commit
 * @param caches are kept in step with the database
 * @param observer is around each piece of work
 */
record Followers(CommitNotifier committed, RecordCaches caches, WorkObserver observer) {
    Followers and(CommitListener listener) {
        return new Followers(committed.and(listener), caches, observer);
    }

    Followers and(RecordCache cache) {
        return new Followers(committed, caches.and(cache), observer);
    }

    Followers and(WorkObserver another) {
        return new Followers(committed, caches, another);
    }

    Followers joined(Connection connection) {
        return new Followers(committed.joined(connection), caches, observer);
    }
}
