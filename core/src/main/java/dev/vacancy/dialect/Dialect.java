package dev.vacancy.dialect;

import dev.vacancy.failure.InvalidRequestException;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.Collectors;

/**
 * What differs from database to database. One class for each; all else is standard SQL and lives in {@link Statements}.
 *
 * @since 0.1
 */
public interface Dialect {
    /**
     * Finds the dialect of the database behind a connection.
     *
     * @param connection an open connection
     * @return its dialect
     * @throws InvalidRequestException when there is none for it
     * @throws SQLException when the database doesn't answer
     */
    static Dialect of(Connection connection) throws SQLException {
        DatabaseMetaData database = connection.getMetaData();
        for (Dialect dialect : Dialects.ALL) {
            if (dialect.speaks(database)) {
                return dialect;
            }
        }
        throw new InvalidRequestException(
                "Vacancy has no dialect for the database '" + database.getDatabaseProductName() + "'.",
                "Use " + Dialects.ALL.stream().map(Dialect::name).collect(Collectors.joining(", ")) + ".");
    }

    /**
     * Returns the database's name as people know it.
     *
     * @return such as {@code PostgreSQL}
     */
    String name();

    /**
     * Tells whether this dialect is the one for a database.
     *
     * @param database the metadata of an open connection
     * @return true if it is
     * @throws SQLException when the database doesn't answer
     */
    boolean speaks(DatabaseMetaData database) throws SQLException;

    /**
     * Tells whether a schema belongs to the database itself, so that its tables are left out of the catalog.
     *
     * @param schema the schema's name as stored
     * @return true for the database's own
     */
    boolean isSystemSchema(String schema);

    /**
     * Says that some columns hold one of the keys of a set. It is true or not true, and may be unknown for nulls.
     *
     * @param columns the columns, quoted
     * @param keys the keys, with as many values each as there are columns
     * @return a condition with one bound value for each column
     */
    Fragment among(List<String> columns, KeySet keys);

    /**
     * Binds a single value to be compared with a column.
     *
     * @param type the database's type name of the column
     * @param value a value of that type
     * @return a question mark, with whatever the database needs around it to take the value for that type
     */
    Fragment value(String type, Object value);

    /**
     * Returns which part of a table's full name is its schema.
     *
     * @return the part
     */
    default Namespace namespace() {
        return Namespace.SCHEMA;
    }

    /**
     * Returns the level at which one transaction sees one state of the database throughout.
     *
     * @return one of the levels of {@link Connection}
     */
    default int readingIsolation() {
        return Connection.TRANSACTION_REPEATABLE_READ;
    }

    /**
     * Returns the level at which a run sees what others have committed until it locks it.
     *
     * @return one of the levels of {@link Connection}
     */
    default int writingIsolation() {
        return Connection.TRANSACTION_READ_COMMITTED;
    }

    /**
     * Tells whether an open connection can be told that it will only read.
     *
     * @return true unless the driver refuses
     */
    default boolean takesReadOnly() {
        return true;
    }

    /**
     * Returns what has to be set on a connection before a transaction, and put back afterwards.
     *
     * @param longestLockWait how long the transaction may wait for someone else's lock
     * @return the settings, none where the database has a short limit of its own
     */
    default List<Setting> settings(Duration longestLockWait) {
        return List.of();
    }

    /**
     * Tells whether the database enforces declared links for statements on this connection.
     *
     * @param connection an open connection
     * @return true unless enforcement is switched off
     * @throws SQLException when the database doesn't answer
     */
    default boolean enforcesLinks(Connection connection) throws SQLException {
        return true;
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
     * Locks the records that a query reads until the transaction ends.
     *
     * @param query a query over one table
     * @return the locking query
     */
    default Fragment locking(Fragment query) {
        return query.between("", " for update");
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
     * Tells whether a foreign key is checked with each row that a statement deletes, and not when all of them are gone.
     *
     * @return true if records that point at each other can't be deleted by one statement
     */
    default boolean checksRowByRow() {
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
     * Returns how deep a recursive query may go.
     *
     * @return the number of rounds, or empty where it ends by itself even if records point at each other in a circle
     */
    default OptionalInt deepestRecursion() {
        return OptionalInt.empty();
    }

    /**
     * Joins a table to what a recursive query has found so far.
     *
     * @param table the table
     * @param name the table's own name, quoted, by which its columns are known
     * @param condition which of its rows belong to a found one
     * @return what stands behind the name of the found rows
     */
    default String joinRecursively(String table, String name, String condition) {
        return " join " + table + " on " + condition;
    }

    /**
     * Reads the foreign keys of a table.
     *
     * @param connection an open connection
     * @param schema the table's schema as stored
     * @param table the table's name as stored
     * @return its foreign keys
     * @throws SQLException when the database doesn't answer
     */
    default List<ForeignKey> foreignKeys(Connection connection, String schema, String table) throws SQLException {
        return ForeignKey.fromMetadata(connection, namespace(), schema, table);
    }

    /**
     * Returns a column's type.
     *
     * @param type the database's name of the type
     * @param told the type as the driver's metadata tells it
     * @return one of {@link java.sql.Types}
     */
    default int jdbcType(String type, int told) {
        return told;
    }

    /**
     * Says what a column is set to by default.
     *
     * @param declared the default as the schema declares it, or null without one
     * @return what stands behind the equals sign of an update
     */
    default Fragment defaultOf(String declared) {
        return Fragment.of("default");
    }

    /**
     * Says that a column is like a pattern in which no character escapes another.
     *
     * @param column the column, quoted
     * @param pattern the pattern
     * @return a condition
     */
    default Fragment like(String column, String pattern) {
        // Databases differ in what escapes unless told; this names a character and keeps it from meaning anything.
        return Fragment.of(column + " like ? escape '!'", Binding.of(pattern.replace("!", "!!")));
    }

    /**
     * Tells whether a statement failed because someone else holds a lock.
     *
     * @param failure what the driver threw
     * @return true if a lock was waited for in vain, or this transaction was chosen to end a deadlock
     */
    boolean isLockFailure(SQLException failure);

    /**
     * Reads a value as the application would want it, detached from the result: {@code java.time} for dates and times,
     * text for character large objects, a read-only {@link java.nio.ByteBuffer} for binary, a list for arrays, text for
     * types that only the database knows.
     *
     * @param row a result on a row
     * @param index the column's position, from 1
     * @return the value, or null
     * @throws SQLException when the driver can't read it
     */
    default Object read(ResultSet row, int index) throws SQLException {
        return Values.detached(row, index);
    }

    /**
     * Quotes an identifier as a delimited identifier (ISO/IEC 9075-2, section 5.2).
     *
     * @param name the name as stored in the catalog
     * @return the name in double quotes
     */
    default String quote(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }
}
