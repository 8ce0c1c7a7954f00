package dev.vacancy.internal.engine;

import dev.vacancy.CommitListener;
import dev.vacancy.internal.follow.FollowUpHandlers;
import java.sql.Connection;

/**
 * Who follows what an engine does.
 *
 * @param committed hears of it after the commit
 * @param caches are kept in step with the database
 * @param observer is around each piece of work
 * @param handlers do what follows outside of the database
 */
record Followers(CommitNotifier committed, RecordCaches caches, WorkObserver observer, FollowUpHandlers handlers) {
    Followers and(CommitListener listener) {
        return new Followers(committed.and(listener), caches, observer, handlers);
    }

    Followers and(RecordCache cache) {
        return new Followers(committed, caches.and(cache), observer, handlers);
    }

    Followers and(WorkObserver another) {
        return new Followers(committed, caches, another, handlers);
    }

    Followers handledBy(FollowUpHandlers more) {
        return new Followers(committed, caches, observer, more);
    }

    Followers joined(Connection connection) {
        return new Followers(committed.joined(connection), caches, observer, handlers);
    }
}
