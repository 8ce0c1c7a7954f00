package dev.vacancy.dialect;

import java.util.Collections;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Renders the few statements that all databases share. Every name it is given is quoted already; every value is bound
 * by the fragment that carries it.
 *
 * @since 0.1
 */
public final class Statements {
    private Statements() {}

    /**
     * Reads columns of the rows that meet a condition.
     *
     * @param columns the columns to read, at least one
     * @param table the table
     * @param where the condition
     * @return the query
     */
    public static Fragment select(List<String> columns, String table, Fragment where) {
        return where.between("select " + String.join(", ", columns) + " from " + table + " where ", "");
    }

    /**
     * Orders a query. The order is taken over the query's result: H2 would sort by the index that finds the keys, and
     * gets that wrong when the same statement runs a second time.
     *
     * @param query the query, each of its columns once
     * @param columns what to order by, the first one first
     * @param descending true for the highest first
     * @return the ordered query; the query itself when there are no columns
     */
    public static Fragment ordered(Fragment query, List<String> columns, boolean descending) {
        return columns.isEmpty()
                ? query
                : query.between("select * from (", ") as found" + order(columns, descending ? " desc" : ""));
    }

    /**
     * Keeps the first rows of a query.
     *
     * @param query the query
     * @param rows how many, at least 1
     * @return the shorter query
     */
    public static Fragment limited(Fragment query, int rows) {
        return query.between("", " limit " + rows);
    }

    /**
     * Locks the rows that a query reads until the transaction ends, wherever possible in one order for all, so that two
     * transactions don't wait for each other.
     *
     * @param query the query, over one table
     * @param columns what to order by, the first one first
     * @return the locking query
     */
    public static Fragment locking(Fragment query, List<String> columns) {
        return query.between("", order(columns, "") + " for update");
    }

    /**
     * Counts the rows that meet a condition.
     *
     * @param table the table
     * @param where the condition
     * @return a query with one row of one number
     */
    public static Fragment count(String table, Fragment where) {
        return select(List.of("count(*)"), table, where);
    }

    /**
     * Deletes the rows that meet a condition.
     *
     * @param table the table
     * @param where the condition
     * @return the statement
     */
    public static Fragment delete(String table, Fragment where) {
        return where.between("delete from " + table + " where ", "");
    }

    /**
     * Sets columns to null on the rows that meet a condition.
     *
     * @param table the table
     * @param columns the columns to empty, at least one
     * @param where the condition
     * @return the statement
     */
    public static Fragment setNull(String table, List<String> columns, Fragment where) {
        return set(table, columns, Collections.nCopies(columns.size(), Fragment.of("null")), where);
    }

    /**
     * Sets columns to their declared default on the rows that meet a condition.
     *
     * @param table the table
     * @param columns the columns to reset, at least one
     * @param where the condition
     * @return the statement
     */
    public static Fragment setDefault(String table, List<String> columns, Fragment where) {
        return set(table, columns, Collections.nCopies(columns.size(), Fragment.of("default")), where);
    }

    /**
     * Says that a column is like a pattern in which no character escapes another.
     *
     * @param column the column
     * @param pattern the pattern
     * @return a condition
     */
    public static Fragment like(String column, String pattern) {
        // Databases differ in what escapes unless told; this names a character and keeps it from meaning anything.
        return Fragment.of(column + " like ? escape '!'", Binding.of(pattern.replace("!", "!!")));
    }

    /**
     * Says that there is a row that meets a condition.
     *
     * @param table the table, with the name it goes by in the condition
     * @param where the condition
     * @return a condition
     */
    public static Fragment exists(String table, Fragment where) {
        return where.between("exists (select 1 from " + table + " where ", ")");
    }

    private static String order(List<String> columns, String direction) {
        return columns.stream().map(column -> column + direction).collect(Collectors.joining(", ", " order by ", ""));
    }

    /**
     * Sets columns on the rows that meet a condition.
     *
     * @param table the table
     * @param columns the columns to set, at least one
     * @param values what to set each of them to
     * @param where the condition
     * @return the statement
     */
    public static Fragment set(String table, List<String> columns, List<Fragment> values, Fragment where) {
        Fragment statement = Fragment.of("update " + table + " set ");
        for (int i = 0; i < columns.size(); i++) {
            statement = statement.then(values.get(i).between((i == 0 ? "" : ", ") + columns.get(i) + " = ", ""));
        }
        return statement.then(where.between(" where ", ""));
    }
}
