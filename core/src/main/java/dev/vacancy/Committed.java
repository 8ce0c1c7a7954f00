package dev.vacancy;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Tells listeners what was committed; of a joined transaction not before the application says so. */
final class Committed {
    private static final Logger LOG = LoggerFactory.getLogger(Committed.class);

    private final List<CommitListener> listeners;
    private final Optional<TransactionSource> source;
    private final Optional<List<Runnable>> waiting;

    private Committed(
            List<CommitListener> listeners, Optional<TransactionSource> source, Optional<List<Runnable>> waiting) {
        this.listeners = listeners;
        this.source = source;
        this.waiting = waiting;
    }

    /** Tells nobody. */
    static Committed toNobody(Optional<TransactionSource> source) {
        return new Committed(List.of(), source, Optional.empty());
    }

    /** The same with one more who is told. */
    Committed and(CommitListener listener) {
        List<CommitListener> all = new ArrayList<>(listeners);
        all.add(listener);
        return new Committed(List.copyOf(all), source, waiting);
    }

    /** The same for a transaction of the application's: whoever is added later hears of what happens later, too. */
    Committed joined() {
        return new Committed(listeners, Optional.empty(), Optional.of(new ArrayList<>()));
    }

    /** Takes what has happened, to be told now or later. */
    void happened(Consumer<CommitListener> event) {
        if (waiting.isPresent()) {
            waiting.get().add(() -> tell(event));
        } else if (source.flatMap(TransactionSource::open).isPresent()) {
            source.get().afterCommit(() -> tell(event));
        } else {
            tell(event);
        }
    }

    /** Whether what happens is committed by the application, and told here. */
    boolean isJoined() {
        return waiting.isPresent();
    }

    /** Tells what has happened in a joined transaction. */
    void committed() {
        List<Runnable> events = List.copyOf(waiting.orElseThrow());
        waiting.get().clear();
        events.forEach(Runnable::run);
    }

    private void tell(Consumer<CommitListener> event) {
        for (CommitListener listener : listeners) {
            try {
                event.accept(listener);
            } catch (RuntimeException failure) {
                LOG.warn("A listener failed when it was told of what has been committed", failure);
            }
        }
    }
}
