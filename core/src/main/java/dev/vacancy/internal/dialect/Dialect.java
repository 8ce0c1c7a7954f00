package dev.vacancy.internal.dialect;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.Collectors;

/**
 * What differs from database to database. One class for each; all else is standard SQL and lives in {@link Statements}.
 *
 * @since 0.1
 */
public interface Dialect extends Naming, Transacting, Describing, Imaging {
    /**
     * Finds rows of a table of ours by a column of text, one by one over its index.
     *
     * @param table the table, as statements name it
     * @param alias what it is called
     * @param column the column
     * @param texts what is looked for, each once
     * @param further what else the rows have to meet
     * @return what stands behind FROM
     */
    default Fragment foundBy(String table, String alias, String column, List<String> texts, Fragment further) {
        Fragment condition = Fragment.allOf(List.of(further, anyOf(alias + "." + column, texts)));
        return from(table, alias, List.of(), List.of(condition));
    }

    /**
     * Finds the dialect of the database behind a connection.
     *
     * @param connection an open connection
     * @return its dialect
     * @throws InvalidRequestException when there is none for it
     * @throws SQLException when the database doesn't answer
     */
    static Dialect of(Connection connection) throws SQLException {
        ShardingDrivers.refuse(connection);
        DatabaseMetaData database = connection.getMetaData();
        for (Dialect dialect : Dialects.ALL) {
            if (dialect.speaks(database)) {
                refuseTooOld(dialect, database);
                Optional<UnfitConnection> unfit = dialect.unfit(connection);
                if (unfit.isPresent()) {
                    throw new InvalidRequestException(
                            FailureCode.UNFIT_CONNECTION,
                            unfit.get().problem(),
                            unfit.get().remedy());
                }
                return dialect.refined(connection);
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
     * Returns the dialect of how the database is set up, where that makes a difference to what it is told.
     *
     * @param connection an open connection
     * @return this dialect, or another one of the same database
     * @throws SQLException when the database doesn't answer
     */
    default Dialect refined(Connection connection) throws SQLException {
        return this;
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
     * Returns how columns and tables retire.
     *
     * @return the database's own way
     */
    Reshaping reshaping();

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
     * @param records how many there are
     * @return the statement
     */
    default Fragment delete(
            String table, String alias, List<String> identity, List<Fragment> alternatives, long records) {
        Fragment where = Fragment.joinAll(" or ", alternatives);
        return where.between("delete from " + table + " as " + alias + " where ", "");
    }

    /**
     * Tells whether the statement that deletes records can be the first to count them.
     *
     * @return false if {@link #delete} takes another way with many records than with few, or if a trigger could keep some of them without
     *     {@link #keepingRows} telling it
     */
    default boolean deletesUncounted() {
        return true;
    }

    /**
     * Asks which of several tables may keep a row that a deletion has found and that doesn't fail: by a trigger, a rule of rewriting, or
     * row-level security, of their partitions too.
     *
     * @param tables the tables, as statements name them
     * @return a query of one truth value, in a row for each table and in their order; empty where nothing keeps a row in that way
     */
    default Optional<Fragment> keepingRows(List<String> tables) {
        return Optional.empty();
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
     * @param records how many there are
     * @return the statement
     */
    default Fragment update(
            String table,
            String alias,
            List<String> identity,
            List<String> columns,
            List<Fragment> values,
            List<Fragment> alternatives,
            long records) {
        Fragment where = Fragment.joinAll(" or ", alternatives);
        return Statements.assignments(columns, values)
                .between("update " + table + " as " + alias + " set ", " where ")
                .then(where);
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
     * Returns how all records of a table are dropped at once, where that is part of a transaction: a statement that commits by
     * itself would take records along that nobody has counted.
     *
     * @param table the table, as statements name it
     * @return the way, or empty where they have to be deleted
     */
    default Optional<Truncation> truncation(String table) {
        return Optional.empty();
    }

    /**
     * Asks how many records of each of several tables this transaction has deleted so far, those among them that the database
     * took along by itself.
     *
     * @param tables the tables, as statements name them
     * @return a query of one number, in a row for each table and in their order, null where nothing is counted now; empty
     *     where the database doesn't count
     */
    default Optional<Fragment> deletedSoFar(List<String> tables) {
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
}
