package dev.vacancy.hibernate;

import static java.util.Objects.requireNonNull;

import dev.vacancy.TransactionSource;
import jakarta.persistence.EntityManager;
import java.sql.Connection;
import java.util.Optional;
import java.util.function.Supplier;
import org.hibernate.engine.spi.SessionImplementor;
import org.hibernate.engine.spi.TransactionCompletionCallbacks;
import org.hibernate.engine.spi.TransactionCompletionCallbacks.AfterCompletionCallback;

/**
 * The transactions of entity managers, where no framework manages them: whatever Vacancy does while the one of the thread has a
 * transaction open is part of it.
 *
 * <pre>{@code
 * Vacancy.over(dataSource, rules, HibernateTransactions.of(() -> Optional.of(entityManager)))
 * }</pre>
 *
 * @since 0.1
 */
public final class HibernateTransactions implements TransactionSource {
    private final Supplier<Optional<EntityManager>> current;

    private HibernateTransactions(Supplier<Optional<EntityManager>> current) {
        this.current = current;
    }

    /**
     * Follows the transactions of entity managers.
     *
     * @param current gives the entity manager of the thread, if it has one; it is asked each time
     * @return who tells of their transactions
     */
    public static HibernateTransactions of(Supplier<Optional<EntityManager>> current) {
        return new HibernateTransactions(requireNonNull(current, "current"));
    }

    private Optional<SessionImplementor> session() {
        return current.get()
                .map(open -> open.unwrap(SessionImplementor.class))
                .filter(session -> session.isOpen() && session.isTransactionInProgress());
    }

    @Override
    public Optional<Connection> open() {
        return session().map(session -> session.doReturningWork(connection -> connection));
    }

    /**
     * {@inheritDoc}
     *
     * @throws IllegalStateException when no transaction is open on this thread
     */
    @Override
    public void afterCommit(Runnable task) {
        TransactionCompletionCallbacks callbacks = session()
                .orElseThrow(() -> new IllegalStateException("No transaction is open on this thread"))
                .getTransactionCompletionCallbacks();
        AfterCompletionCallback done = (committed, session) -> {
            if (committed) {
                task.run();
            }
        };
        callbacks.registerCallback(done);
    }
}
