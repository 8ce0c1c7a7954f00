package dev.vacancy.internal.engine;

import dev.vacancy.CommitListener;
import dev.vacancy.TransactionSource;
import java.sql.Connection;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Notifies listeners of what was committed, and of nothing before: what is joined to a transaction without a source is not known to be. */
final class CommitNotifier {
    private static final Logger LOG = LoggerFactory.getLogger(CommitNotifier.class);

    private final List<CommitListener> listeners;
    private final Optional<TransactionSource> source;
    private final Optional<Connection> joined;

    private CommitNotifier(
            List<CommitListener> listeners, Optional<TransactionSource> source, Optional<Connection> joined) {
        this.listeners = listeners;
        this.source = source;
        this.joined = joined;
    }

    /** Without listeners. */
    static CommitNotifier toNobody(Optional<TransactionSource> source) {
        return new CommitNotifier(List.of(), source, Optional.empty());
    }

    /** The same with one more listener. */
    CommitNotifier and(CommitListener listener) {
        List<CommitListener> all = new ArrayList<>(listeners);
        all.add(listener);
        return new CommitNotifier(List.copyOf(all), source, joined);
    }

    /** The same for a transaction that is joined by its connection: only a source that has the same one open says how it ends. */
    CommitNotifier joined(Connection connection) {
        return new CommitNotifier(listeners, source, Optional.of(connection));
    }

    /** Passes on what has happened, now or once the application's transaction is committed. */
    void happened(Consumer<CommitListener> event) {
        afterCommit(() -> notifyOf(event));
    }

    /** Does something now, or once the application's transaction is committed. */
    void afterCommit(Runnable task) {
        Optional<Connection> open = source.flatMap(TransactionSource::open);
        if (joined.isPresent() ? open.filter(joined.get()::equals).isPresent() : open.isPresent()) {
            source.get().afterCommit(task);
        } else if (joined.isEmpty()) {
            task.run();
        }
    }

    private void notifyOf(Consumer<CommitListener> event) {
        for (CommitListener listener : listeners) {
            try {
                event.accept(listener);
            } catch (RuntimeException failure) {
                LOG.warn("A listener failed when it was notified of what has been committed", failure);
            }
        }
    }
}
