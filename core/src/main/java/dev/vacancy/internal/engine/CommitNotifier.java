package dev.vacancy.internal.engine;

import dev.vacancy.CommitListener;
import dev.vacancy.TransactionSource;
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
    private final boolean known;

    private CommitNotifier(List<CommitListener> listeners, Optional<TransactionSource> source, boolean known) {
        this.listeners = listeners;
        this.source = source;
        this.known = known;
    }

    /** Without listeners. */
    static CommitNotifier toNobody(Optional<TransactionSource> source) {
        return new CommitNotifier(List.of(), source, true);
    }

    /** The same with one more listener. */
    CommitNotifier and(CommitListener listener) {
        List<CommitListener> all = new ArrayList<>(listeners);
        all.add(listener);
        return new CommitNotifier(List.copyOf(all), source, known);
    }

    /** The same for a transaction of which nobody says how it ends. */
    CommitNotifier joined() {
        return new CommitNotifier(listeners, source, false);
    }

    /** Passes on what has happened, now or once the application's transaction is committed. */
    void happened(Consumer<CommitListener> event) {
        if (source.flatMap(TransactionSource::open).isPresent()) {
            source.get().afterCommit(() -> notifyOf(event));
        } else if (known) {
            notifyOf(event);
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
