package dev.vacancy.internal.running;

import dev.vacancy.internal.dialect.Dialect;
import java.sql.Connection;
import java.time.Duration;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * Works inside the transaction that the application has open on the thread, and in one of our own where none is.
 *
 * @since 0.1
 */
public final class ManagedTransactions implements Transactions {
    private final OpenTransaction open;
    private final OwnTransactions own;
    private final Dialect dialect;
    private final Duration lockWait;
    private final Runnable flush;

    /**
     * Makes them.
     *
     * @param open tells of the application's
     * @param own those of our own
     * @param lockWait how long to wait for someone else's lock
     */
    public ManagedTransactions(OpenTransaction open, OwnTransactions own, Duration lockWait) {
        this(open, own, lockWait, JoinedTransaction.NOTHING);
    }

    private ManagedTransactions(OpenTransaction open, OwnTransactions own, Duration lockWait, Runnable flush) {
        this.open = open;
        this.own = own;
        this.dialect = own.dialect();
        this.lockWait = lockWait;
        this.flush = flush;
    }

    private Transactions present() {
        Optional<Connection> connection = open.connection();
        return connection.isPresent()
                ? new JoinedTransaction(connection.get(), dialect, lockWait, open.isReadOnly()).flushing(flush)
                : own;
    }

    @Override
    public ManagedTransactions waiting(Duration longest) {
        return new ManagedTransactions(open, own.waiting(longest), longest, flush);
    }

    @Override
    public ManagedTransactions flushing(Runnable first) {
        return new ManagedTransactions(open, own, lockWait, first);
    }

    @Override
    public <T> T reading(Work<T> work) {
        return present().reading(work);
    }

    @Override
    public <T> T looking(Work<T> work) {
        return present().looking(work);
    }

    @Override
    public Optional<String> behind() {
        return own.behind();
    }

    @Override
    public <T> T writing(Work<T> work) {
        return present().writing(work);
    }

    @Override
    public <T> T reshaping(Work<T> work) {
        return present().reshaping(work);
    }

    @Override
    public boolean isJoined() {
        return present().isJoined();
    }

    @Override
    public OptionalInt joinedAt() {
        return present().joinedAt();
    }
}
