package dev.vacancy.examples.cdi;

import dev.vacancy.TransactionSource;
import jakarta.transaction.Status;
import jakarta.transaction.Synchronization;
import jakarta.transaction.TransactionSynchronizationRegistry;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import javax.sql.DataSource;

/** The transactions that a container manages (Jakarta Transactions 2.0), on a data source that takes part in them. */
public final class JtaTransactions implements TransactionSource {
    private final DataSource source;
    private final TransactionSynchronizationRegistry registry;

    /**
     * Follows the container's transactions.
     *
     * @param source gives connections that are part of the transaction of the thread
     * @param registry tells of that transaction
     */
    public JtaTransactions(DataSource source, TransactionSynchronizationRegistry registry) {
        this.source = source;
        this.registry = registry;
    }

    /** One connection for each transaction. */
    @Override
    public Optional<Connection> open() {
        if (registry.getTransactionStatus() != Status.STATUS_ACTIVE) {
            return Optional.empty();
        }
        if (registry.getResource(this) instanceof Connection open) {
            return Optional.of(open);
        }
        try (Connection connection = source.getConnection()) {
            // What the pool gives is a handle, which lets nobody go back to a savepoint of theirs, as a deletion does
            // that is refused halfway. The
            // connection behind it belongs to the transaction until that ends.
            Connection behind = connection.unwrap(Connection.class);
            registry.putResource(this, behind);
            return Optional.of(behind);
        } catch (SQLException refused) {
            throw new IllegalStateException("The transaction has no connection to the database", refused);
        }
    }

    @Override
    public void afterCommit(Runnable task) {
        registry.registerInterposedSynchronization(new Synchronization() {
            @Override
            public void beforeCompletion() {
                // What belongs to the transaction was done in it.
            }

            @Override
            public void afterCompletion(int status) {
                if (status == Status.STATUS_COMMITTED) {
                    task.run();
                }
            }
        });
    }
}
