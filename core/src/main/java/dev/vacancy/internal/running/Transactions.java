package dev.vacancy.internal.running;

import java.time.Duration;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * Where the work is done: in transactions of our own, or inside one that the caller has open.
 *
 * @since 0.1
 */
public sealed interface Transactions permits OwnTransactions, JoinedTransaction, ManagedTransactions {
    /**
     * Returns the same with another limit for locks.
     *
     * @param longest how long to wait for someone else's lock
     * @return the other transactions
     */
    Transactions waiting(Duration longest);

    /**
     * Returns the same with something to do first wherever the application's transaction is joined: to write what it hasn't written yet.
     *
     * @param flush writes it
     * @return the other transactions; transactions of our own are the same
     */
    Transactions flushing(Runnable flush);

    /**
     * Reads. What is read is one state of the database wherever the database can give that.
     *
     * @param <T> what comes of it
     * @param work what to read
     * @return what came of it
     */
    <T> T reading(Work<T> work);

    /**
     * Reads what is only looked at, and held against the present before anything is done: wherever the application has it read, which may be a
     * server that is a little behind.
     *
     * @param <T> what comes of it
     * @param work what to read
     * @return what came of it
     */
    default <T> T looking(Work<T> work) {
        return reading(work);
    }

    /**
     * Tells how far the server is behind on which things are looked at.
     *
     * @return in words; empty where they are looked at on the server that writes
     */
    default Optional<String> behind() {
        return Optional.empty();
    }

    /**
     * Writes, all or nothing: when the work fails, the data is as it was.
     *
     * <p>It throws an {@link dev.vacancy.OutcomeUnknownException} when the answer to the commit was lost.
     *
     * @param <T> what comes of it
     * @param work what to do
     * @return what came of it
     */
    <T> T writing(Work<T> work);

    /**
     * Changes tables. Where the database commits each change, what was done before a failure stays done.
     *
     * @param <T> what comes of it
     * @param work what to do; settings are such that no statement waits for long
     * @return what came of it
     * @throws dev.vacancy.InvalidRequestException inside a transaction of the application's
     */
    <T> T reshaping(Work<T> work);

    /**
     * Tells whether work is done in a transaction that somebody else began, and ends.
     *
     * @return false for transactions of our own
     */
    default boolean isJoined() {
        return false;
    }

    /**
     * Asks for the level of a transaction that somebody else began.
     *
     * @return one of the levels of {@link java.sql.Connection}; empty for transactions of our own, which have the right one
     */
    default OptionalInt joinedAt() {
        return OptionalInt.empty();
    }
}
