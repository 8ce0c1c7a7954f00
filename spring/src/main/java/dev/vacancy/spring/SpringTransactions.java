package dev.vacancy.spring;

import dev.vacancy.TransactionSource;
import java.sql.Connection;
import java.util.Objects;
import java.util.Optional;
import javax.sql.DataSource;
import org.springframework.jdbc.datasource.ConnectionHolder;
import org.springframework.jdbc.datasource.TransactionAwareDataSourceProxy;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * The transactions that Spring manages on a data source: by {@code @Transactional}, by a {@code TransactionTemplate}, for JDBC or for an
 * object mapper whose transaction manager knows the data source.
 *
 * <pre>{@code
 * @Bean
 * Vacancy vacancy(DataSource source) {
 *     return Vacancy.over(source, rules, SpringTransactions.of(source));
 * }
 * }</pre>
 *
 * <p>Where such a transaction is open, whatever Vacancy does is part of it. Where none is, or only one on another data source, Vacancy
 * works in transactions of its own. Listeners hear of what was done once it is committed, and not of what was rolled back to a
 * savepoint ({@code PROPAGATION_NESTED}). What they do with Vacancy then is in a transaction of its own.
 *
 * <p>It may be used by any number of threads.
 *
 * @since 0.1
 */
public final class SpringTransactions implements TransactionSource {
    private final DataSource source;

    private SpringTransactions(DataSource source) {
        this.source = source;
    }

    /**
     * Follows the transactions on a data source.
     *
     * @param source the data source that the transaction manager has; a proxy that knows transactions is looked behind
     * @return who tells of them
     * @throws NullPointerException when there is no data source
     */
    public static SpringTransactions of(DataSource source) {
        DataSource behind = Objects.requireNonNull(source, "source");
        while (behind instanceof TransactionAwareDataSourceProxy proxy && proxy.getTargetDataSource() != null) {
            behind = proxy.getTargetDataSource();
        }
        return new SpringTransactions(behind);
    }

    @Override
    public Optional<Connection> open() {
        if (!TransactionSynchronizationManager.isActualTransactionActive()
                || !(TransactionSynchronizationManager.getResource(source) instanceof ConnectionHolder holder)) {
            return Optional.empty();
        }
        return JoinedTransaction.on(source).hasEnded() ? Optional.empty() : Optional.of(holder.getConnection());
    }

    /**
     * {@inheritDoc}
     *
     * @throws IllegalStateException when no transaction is open on this thread
     */
    @Override
    public void afterCommit(Runnable task) {
        if (!TransactionSynchronizationManager.isSynchronizationActive()) {
            throw new IllegalStateException("No transaction is open on this thread");
        }
        JoinedTransaction.on(source).afterCommit(task);
    }

    @Override
    public boolean isReadOnly() {
        return TransactionSynchronizationManager.isCurrentTransactionReadOnly();
    }

    @Override
    public String toString() {
        return "Spring's transactions on " + source;
    }
}
