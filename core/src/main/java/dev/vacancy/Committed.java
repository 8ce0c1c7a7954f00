package dev.vacancy;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Tells listeners what was committed; of a joined transaction not before the application says so. */
final class Committed {
    private static final Logger LOG = LoggerFactory.getLogger(Committed.class);

    private final List<CommitListener> listeners;
    private final boolean joined;
    private final List<Consumer<CommitListener>> waiting = new ArrayList<>();

    private Committed(List<CommitListener> listeners, boolean joined) {
        this.listeners = listeners;
        this.joined = joined;
    }

    /** Tells nobody. */
    static Committed toNobody() {
        return new Committed(List.of(), false);
    }

    /** The same with one more who is told. */
    Committed and(CommitListener listener) {
        List<CommitListener> all = new ArrayList<>(listeners);
        all.add(listener);
        return new Committed(List.copyOf(all), joined);
    }

    /** The same for a transaction of the application's. */
    Committed joined() {
        return new Committed(listeners, true);
    }

    /** Takes what has happened, to be told now or later. */
    void happened(Consumer<CommitListener> event) {
        if (joined) {
            waiting.add(event);
        } else {
            tell(event);
        }
    }

    /** Whether what happens is committed by the application. */
    boolean isJoined() {
        return joined;
    }

    /** Tells what has happened in a joined transaction. */
    void committed() {
        List<Consumer<CommitListener>> events = List.copyOf(waiting);
        waiting.clear();
        events.forEach(this::tell);
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
