package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.Access;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.ColumnType;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

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
                refuseTooOld(dialect, database);
                return dialect;
            }
        }
        throw new InvalidRequestException(
                FailureCode.UNKNOWN_DATABASE,
                "Vacancy has no dialect for the database '" + database.getDatabaseProductName() + "'.",
                "Use " + Dialects.ALL.stream().map(Dialect::name).collect(Collectors.joining(", ")) + ".");
    }

    private static void refuseTooOld(Dialect dialect, DatabaseMetaData database) throws SQLException {
        Version found = new Version(database.getDatabaseMajorVersion(), database.getDatabaseMinorVersion());
        if (found.compareTo(dialect.oldest()) < 0) {
            throw new InvalidRequestException(
                            FailureCode.UNKNOWN_DATABASE,
                            dialect.name() + " " + found + " is too old for Vacancy.",
                            "Use " + dialect.name() + " " + dialect.oldest() + " or later.")
                    .about("version", found);
        }
    }

    /**
     * Returns the oldest version of the database that can do all that is asked of it.
     *
     * @return major and minor version
     */
    Version oldest();

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
     * Binds a single value to be compared with what {@link #comparand} makes of a column. The value is never rounded or cut on the way.
     *
     * @param type the column's type
     * @param value a value of that type
     * @return a question mark, with whatever the database needs around it to take the value for that type
     */
    Fragment value(ColumnType type, Object value);

    /**
     * Binds a single value to be written to a column.
     *
     * @param type the column's type
     * @param value a value of that type
     * @return a question mark, with whatever the database needs around it to take the value for that type
     */
    default Fragment stored(ColumnType type, Object value) {
        return value(type, value);
    }

    /**
     * Says a column the way {@link #value} compares it.
     *
     * @param type the column's type
     * @param column the column, qualified
     * @return the column, in a form in which what means the same is the same
     */
    default String comparand(ColumnType type, String column) {
        return column;
    }

    /**
     * Compares a column with a value.
     *
     * @param column the column, qualified
     * @param type its type
     * @param comparison one of SQL's comparison operators
     * @param value a value of that type
     * @return a condition
     */
    default Fragment compared(String column, ColumnType type, String comparison, Object value) {
        return value(type, value).between(comparand(type, column) + " " + comparison + " ", "");
    }

    /**
     * Says that a column has one of several values.
     *
     * @param column the column, qualified
     * @param type its type
     * @param values the values, at least one
     * @return a condition
     */
    default Fragment oneOf(String column, ColumnType type, List<Object> values) {
        return among(
                List.of(column),
                new KeySet(List.of(type), values.stream().map(List::of).toList()));
    }

    /**
     * Says that a column has another value than some.
     *
     * @param column the column, qualified
     * @param type its type
     * @param values the values, at least one
     * @return a condition; not true of null
     */
    default Fragment noneOf(String column, ColumnType type, List<Object> values) {
        return oneOf(column, type, values).between("not (", ")");
    }

    /**
     * Says what to read of a column, so that the value that comes back is the very one that is stored.
     *
     * @param type the column's type
     * @param column the column, quoted
     * @return the column, or its text in the database's own form where Java has no type that holds each of its values
     */
    default String exact(ColumnType type, String column) {
        return column;
    }

    /**
     * Reads what {@link #exact} asked for.
     *
     * @param row a result on a row
     * @param index the position, from 1
     * @param type the column's type
     * @return a value that finds the record again when it is sent back; null for null
     * @throws SQLException when the driver can't read it
     */
    default Object readExact(ResultSet row, int index, ColumnType type) throws SQLException {
        return read(row, index, type);
    }

    /**
     * Returns what the columns of the catalog are, beyond what metadata tells.
     *
     * @param connection an open connection
     * @return the types
     * @throws SQLException when the database doesn't answer
     */
    default ColumnTypes columnTypes(Connection connection) throws SQLException {
        return (schema, table, column, told) -> told;
    }

    /**
     * Says a column of one end of a link so that the database compares it with the other end's.
     *
     * @param column the column, qualified
     * @param own its type
     * @param other the type of the column at the other end
     * @return the column; as text where only the other is text
     */
    default String comparable(String column, ColumnType own, ColumnType other) {
        return other.isText() && !own.isText() && !own.isEnumeration()
                ? "cast(" + column + " as " + textType() + ")"
                : column;
    }

    /**
     * Says a child's column so that it is compared the way a foreign key compares it: by the collation of its parent's.
     *
     * @param column the column, qualified
     * @param own its type
     * @param parent the type of the parent's column
     * @return the column, with the parent's collation where it has another one
     */
    default String collatedLike(String column, ColumnType own, ColumnType parent) {
        return column;
    }

    /**
     * Returns what a cast to text names.
     *
     * @return such as {@code varchar}
     */
    default String textType() {
        return "varchar";
    }

    /**
     * Says that some columns are among those that a query reads. It is true or not true, and may be unknown for nulls.
     *
     * @param columns the columns, as they are to be compared
     * @param query the beginning of the query, up to its columns
     * @param read the columns that it reads, one for each
     * @param from the rest of the query
     * @return a condition
     */
    default Fragment among(List<String> columns, String query, List<String> read, Fragment from) {
        String names = columns.size() == 1 ? columns.get(0) : "(" + String.join(", ", columns) + ")";
        return from.between(names + " in (" + query + String.join(", ", read), ")");
    }

    /**
     * Says where records are found.
     *
     * @param table the table
     * @param alias what it is called in the conditions
     * @param identity the columns that tell its records apart, qualified; may be empty
     * @param alternatives conditions, at least one of which a record must meet
     * @return what stands behind FROM
     */
    default Fragment from(String table, String alias, List<String> identity, List<Fragment> alternatives) {
        Fragment where = Fragment.joinAll(" or ", alternatives);
        return where.between(table + " as " + alias + " where ", "");
    }

    /**
     * Deletes records.
     *
     * @param table the table
     * @param alias what it is called in the conditions
     * @param identity the columns that tell its records apart, qualified; may be empty
     * @param alternatives conditions, at least one of which a record must meet
     * @return the statement
     */
    default Fragment delete(String table, String alias, List<String> identity, List<Fragment> alternatives) {
        return from(table, alias, identity, alternatives).between("delete from ", "");
    }

    /**
     * Sets columns of records.
     *
     * @param table the table
     * @param alias what it is called in the conditions
     * @param identity the columns that tell its records apart, qualified; may be empty
     * @param columns the columns to set, quoted, at least one
     * @param values what to set each of them to
     * @param alternatives conditions, at least one of which a record must meet
     * @return the statement
     */
    default Fragment update(
            String table,
            String alias,
            List<String> identity,
            List<String> columns,
            List<Fragment> values,
            List<Fragment> alternatives) {
        Fragment where = Fragment.joinAll(" or ", alternatives);
        return Statements.assignments(columns, values)
                .between("update " + table + " as " + alias + " set ", " where ")
                .then(where);
    }

    /**
     * Returns which part of a table's full name is its schema.
     *
     * @return the part
     */
    default Namespace namespace() {
        return Namespace.SCHEMA;
    }

    /**
     * Returns the schema of all tables, where metadata knows none. A name without one could be that of a temporary table, or
     * of a query inside a statement.
     *
     * @return the schema as stored
     */
    default String onlySchema() {
        return "";
    }

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
     * Gives a statement the settings that are for it alone, such as how long it may wait for a lock.
     *
     * @param statement any statement
     * @return the same with its settings
     */
    default Fragment governed(Fragment statement) {
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
     * Tells whether what ON DELETE says is done when a statement has deleted all of its records, so that among them it finds
     * nothing left to do.
     *
     * @return true if records that point at each other can go in one statement, whatever their ON DELETE
     */
    default boolean actsAfterStatement() {
        return false;
    }

    /**
     * Returns how many records can point at each other in a row for ON DELETE CASCADE to follow them.
     *
     * @return the number, 0 where a cascade stands in the way of deleting them in one statement
     */
    default int deepestCascade() {
        return 0;
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
     * @param alias what it is called
     * @param condition which of its rows belong to a found one
     * @return what stands behind the name of the found rows
     */
    default String joinRecursively(String table, String alias, String condition) {
        return " join " + table + " as " + alias + " on " + condition;
    }

    /**
     * Reads which tables are parts of others, such as partitions: their records are read, changed and deleted through the
     * table that they belong to.
     *
     * @param connection an open connection
     * @return schema and name of each part, with schema and name of the table above it
     * @throws SQLException when the database doesn't answer
     */
    default Map<List<String>, List<String>> partsOfTables(Connection connection) throws SQLException {
        return Map.of();
    }

    /**
     * Reads what the connection's user may do with the tables.
     *
     * @param connection an open connection
     * @return limits by schema and table as stored; a table that isn't there has none that the database tells
     * @throws SQLException when the database doesn't answer
     */
    default Map<List<String>, Access> access(Connection connection) throws SQLException {
        return Map.of();
    }

    /**
     * Asks how many records of a table this transaction has deleted so far, those among them that the database took along by
     * itself.
     *
     * @param table the table
     * @return a query of one number, or empty where the database doesn't count
     */
    default Optional<Fragment> deletedSoFar(String table) {
        return Optional.empty();
    }

    /**
     * Asks how many records of all tables this connection has changed so far, those among them that the database changed by
     * itself.
     *
     * @return a query of one number, null where that says nothing; empty where the database doesn't count
     */
    default Optional<Fragment> changedSoFar() {
        return Optional.empty();
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
     * Tells whether a statement failed because of what another transaction does at the same time, so that it may work when
     * it is tried again.
     *
     * @param failure what the driver threw
     * @return true if a lock was waited for in vain, this transaction was chosen to end a deadlock, or the two can't be put
     *     into an order
     */
    boolean isLockFailure(SQLException failure);

    /**
     * Reads a value as the application would want it, detached from the result: {@code java.time} for dates and times,
     * text for character large objects, a read-only {@link java.nio.ByteBuffer} for binary, a list for arrays, text for
     * types that only the database knows.
     *
     * @param row a result on a row
     * @param index the column's position, from 1
     * @param type the column's type
     * @return the value, or null
     * @throws SQLException when the driver can't read it
     */
    default Object read(ResultSet row, int index, ColumnType type) throws SQLException {
        return Values.detached(row, index, type);
    }

    /**
     * Names a table.
     *
     * @param table a table of the catalog
     * @return schema and name, quoted
     */
    default String name(Table table) {
        return quote(table.schema().isEmpty() ? onlySchema() : table.schema()) + "." + quote(table.storedName());
    }

    /**
     * Names a column.
     *
     * @param alias what its table is called
     * @param column a column of the catalog
     * @return its name, quoted, behind the alias
     */
    default String name(String alias, Column column) {
        return alias + "." + quote(column.storedName());
    }

    /**
     * Names columns.
     *
     * @param alias what their table is called
     * @param columns columns of the catalog
     * @return their names, quoted, each behind the alias
     */
    default List<String> names(String alias, List<Column> columns) {
        return columns.stream().map(column -> name(alias, column)).toList();
    }

    /**
     * Names columns where no table stands before them.
     *
     * @param columns columns of the catalog
     * @return their names, quoted
     */
    default List<String> names(List<Column> columns) {
        return columns.stream().map(column -> quote(column.storedName())).toList();
    }

    /**
     * Names the foreign key of a link, the way it is compared with the parent's columns.
     *
     * @param alias what the child's table is called
     * @param link a link of the catalog
     * @return its columns
     */
    default List<String> foreignKey(String alias, Link link) {
        return IntStream.range(0, link.childColumns().size())
                .mapToObj(i -> {
                    ColumnType own = link.childColumns().get(i).type();
                    ColumnType other = link.parentColumns().get(i).type();
                    String column = comparable(name(alias, link.childColumns().get(i)), own, other);
                    return collatedLike(column, own, other);
                })
                .toList();
    }

    /**
     * Names the columns that a foreign key points to, the way they are compared with it.
     *
     * @param alias what the parent's table is called
     * @param link a link of the catalog
     * @return the columns
     */
    default List<String> referenced(String alias, Link link) {
        return IntStream.range(0, link.parentColumns().size())
                .mapToObj(i -> comparable(
                        name(alias, link.parentColumns().get(i)),
                        link.parentColumns().get(i).type(),
                        link.childColumns().get(i).type()))
                .toList();
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
