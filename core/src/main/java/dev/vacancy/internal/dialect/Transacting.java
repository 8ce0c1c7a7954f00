package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * How a database begins transactions, isolates them from each other and locks what they read.
 *
 * @since 0.1
 */
public interface Transacting {
    /**
     * Returns what begins a transaction that only reads, and sees one state of the database throughout. It is said inside the
     * transaction, or just before its first statement, and ends with it.
     *
     * @return statements, none where the database has nothing of the kind
     */
    default List<String> beginReading() {
        return List.of();
    }

    /**
     * Returns what begins a transaction that writes, and sees what others have committed until it locks it.
     *
     * @param longestLockWait how long the transaction may wait for someone else's lock
     * @return statements, none where the database has nothing of the kind
     */
    default List<String> beginWriting(Duration longestLockWait) {
        return List.of();
    }

    /**
     * Returns the level that a connection must have where a transaction can't have one of its own.
     *
     * @param writing whether the transaction writes
     * @return one of the levels of {@link Connection}, or empty if it doesn't matter
     */
    default OptionalInt isolation(boolean writing) {
        return OptionalInt.empty();
    }

    /**
     * Tells whether a transaction at this level may miss what others have committed since it began, so that it could leave
     * orphans.
     *
     * @param isolation one of the levels of {@link Connection}
     * @param declared whether all links that matter are enforced by the database
     * @return true if a run can't be joined to it
     */
    default boolean overlooksChildren(int isolation, boolean declared) {
        return false;
    }

    /**
     * Returns the level at which nothing is overlooked.
     *
     * @return the level's name in SQL
     */
    default String seesChildrenAt() {
        return "READ COMMITTED";
    }

    /**
     * Returns what has to be set on a connection before a transaction of our own, and put back afterwards.
     *
     * @param longestLockWait how long the transaction may wait for someone else's lock
     * @return the settings, none where they are said with the transaction
     */
    default List<Setting> settings(Duration longestLockWait) {
        return List.of();
    }

    /**
     * Returns what has to be set inside somebody else's transaction, and put back before it goes on.
     *
     * @param longestLockWait how long a statement may wait for someone else's lock
     * @return the settings, none where they are said with each statement
     */
    default List<Setting> settingsInside(Duration longestLockWait) {
        return List.of();
    }

    /**
     * Returns what a run has to say before it reads anything.
     *
     * @param table a table of the database
     * @param column a column of that table
     * @return a statement that changes nothing, or empty where locks are taken record by record
     */
    default Optional<Fragment> beginWriting(String table, String column) {
        return Optional.empty();
    }

    /**
     * Keeps others from adding children to a table until the transaction ends, where its link to the parent isn't
     * declared and no lock on the parent holds them back.
     *
     * @param table the table
     * @return the statement, or empty where the reads of a run do that, or nothing does
     */
    default Optional<Fragment> lockTable(String table) {
        return Optional.empty();
    }

    /**
     * Gives a statement the settings that are for it alone, such as how long it may wait for a lock.
     *
     * @param statement any statement
     * @param longestLockWait how long it may wait for someone else's lock
     * @return the same with its settings
     */
    default Fragment governed(Fragment statement, Duration longestLockWait) {
        return statement;
    }

    /**
     * Lets a query of a run that locks nothing see what others have committed.
     *
     * @param query a query
     * @return the same, where the transaction sees that anyway
     */
    default Fragment current(Fragment query) {
        return query;
    }

    /**
     * Locks the records that a query reads until the transaction ends.
     *
     * @param query a query over one table
     * @return the locking query
     */
    default Fragment locking(Fragment query) {
        return query.between("", " for update");
    }

    /**
     * Counts the records that a locking query finds, without handing them over.
     *
     * @param query a locking query
     * @return the query that locks and counts, or empty where that would lock none
     */
    default Optional<Fragment> countingLocked(Fragment query) {
        return Optional.empty();
    }

    /**
     * Locks the records that a query reads, less those that someone else has locked.
     *
     * @param query a query over one table
     * @return the locking query, or empty where the database locks nothing as small as a record
     */
    default Optional<Fragment> skippingLocked(Fragment query) {
        return Optional.of(query.between("", " for update skip locked"));
    }

    /**
     * Tells whether a locking query locks all rows that its condition finds, and keeps to its limit only then.
     *
     * @return true if its condition should find few rows
     */
    default boolean locksBeyondLimit() {
        return false;
    }

    /**
     * Returns how the checks of deferrable foreign keys are put off.
     *
     * @return empty where they can't be
     */
    default Optional<Deferral> deferral() {
        return Optional.empty();
    }

    /**
     * Tells whether a statement failed because of what another transaction does at the same time, so that it may work when
     * it is tried again.
     *
     * @param failure what the driver threw
     * @return true if a lock was waited for in vain, this transaction was chosen to end a deadlock, or the two can't be put
     *     into an order
     */
    boolean isLockFailure(SQLException failure);

    /**
     * Tells whether a failure is due to what stands between here and the database, and not to the data.
     *
     * @param failure what the driver threw
     * @return why, and what to do; empty where it is an ordinary failure
     */
    default Optional<UnfitConnection> unfit(SQLException failure) {
        return Optional.empty();
    }

    /**
     * Tells whether a transaction that writes couldn't begin because this server only follows another one.
     *
     * @param failure what the driver threw as it began
     * @return true if nothing can be written here, whatever it is
     */
    default boolean refusesToWrite(SQLException failure) {
        return false;
    }

    /**
     * Tells whether a transaction couldn't even begin because of how this server stands to others.
     *
     * @param failure what the driver threw as it began
     * @return why, and what to do; empty where it is an ordinary failure
     */
    default Optional<UnfitConnection> unfitToBegin(SQLException failure) {
        return unfit(failure);
    }

    /**
     * Tells why a database can't be worked on as it is set up.
     *
     * @param connection an open connection
     * @return why; empty if it can
     * @throws SQLException when the database doesn't answer
     */
    default Optional<UnfitConnection> unfit(Connection connection) throws SQLException {
        return Optional.empty();
    }

    /**
     * Tells whether a statement that makes a table commits the transaction that it stands in.
     *
     * @return false where it is part of it
     */
    default boolean commitsAtDdl() {
        return false;
    }

    /**
     * Tells whether the database consists of several servers that all write and know nothing of each other's locks, so that what their
     * transactions have written is held against each other only as they commit.
     *
     * @return true if a lock holds off those on the same server only
     */
    default boolean locksAreLocal() {
        return false;
    }

    /**
     * Tells which of the servers this is, where there are several that all write.
     *
     * @param connection an open connection
     * @return its number and how many there are; empty where it is one
     * @throws SQLException when the database doesn't answer
     */
    default Optional<ServerNumber> serverNumber(Connection connection) throws SQLException {
        return Optional.empty();
    }

    /**
     * Returns how a transaction commits that has written, where a commit may wait without an end for other servers to confirm it. The last
     * statement ends it, and once it only waits it can be told to wait no more, without being taken back.
     *
     * @return statements; none where a commit waits for nobody
     */
    default List<String> commitAwaitingOthers() {
        return List.of();
    }

    /**
     * Tells how old the last change is that a server which follows another one knows of.
     *
     * @param connection a connection to it
     * @return its age; empty where nothing tells
     * @throws SQLException when the database doesn't answer
     */
    default Optional<Duration> replayDelay(Connection connection) throws SQLException {
        return Optional.empty();
    }

    /**
     * Tells whether statements with semicolons between them travel together, in one round trip, each with a result of its
     * own.
     *
     * @return true if the driver takes them as one
     */
    default boolean pipelines() {
        return false;
    }

    /**
     * Tells whether a transaction of ours that writes locks whatever it reads, so that only what it is about should be read.
     *
     * @return true if reads are better done before
     */
    default boolean locksWhatItReads() {
        return false;
    }
}
