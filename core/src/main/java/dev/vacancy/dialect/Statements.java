package dev.vacancy.dialect;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

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
     * Puts the rows that a query reads in order, without the derived table of {@link #ordered}: rows can't be locked
     * through one. Locking in one order keeps two transactions from waiting for each other.
     *
     * @param query the query, over one table
     * @param columns what to order by, the first one first; may be empty
     * @return the ordered query
     */
    public static Fragment inOrder(Fragment query, List<String> columns) {
        return columns.isEmpty() ? query : query.between("", order(columns, ""));
    }

    /**
     * Reads the rows that are reached from a first few along a link of a table to itself, to any depth.
     *
     * @param dialect the dialect of the database
     * @param table the table
     * @param name the table's own name, quoted
     * @param columns the columns to read, qualified
     * @param first picks the first rows
     * @param further what each further row must meet beside pointing at one found before, or empty
     * @param pointing the columns of the foreign key, qualified
     * @param pointedAt where the columns that it points to stand among those that are read, from 0
     * @return the query; where the database limits the rounds, a row may come several times
     */
    public static Fragment descendants(
            Dialect dialect,
            String table,
            String name,
            List<String> columns,
            Fragment first,
            Optional<Fragment> further,
            List<String> pointing,
            List<Integer> pointedAt) {
        OptionalInt deepest = dialect.deepestRecursion();
        String names = IntStream.range(0, columns.size()).mapToObj(i -> "c" + i).collect(Collectors.joining(", "));
        String matches = IntStream.range(0, pointing.size())
                .mapToObj(i -> "vacancy_found.c" + pointedAt.get(i) + " = " + pointing.get(i))
                .collect(Collectors.joining(" and "));
        boolean bounded = deepest.isPresent();
        String read = String.join(", ", columns);
        Fragment start = first.between(
                "with recursive vacancy_found(" + names + (bounded ? ", depth" : "") + ") as (select " + read
                        + (bounded ? ", 1" : "") + " from " + table + " where ",
                bounded ? " union all " : " union ");
        Fragment next = Fragment.of("select " + read + (bounded ? ", vacancy_found.depth + 1" : "")
                + " from vacancy_found" + dialect.joinRecursively(table, name, matches)
                + (bounded ? " where vacancy_found.depth < " + deepest.getAsInt() : " where 1 = 1"));
        Fragment condition = further.map(part -> part.between(" and (", ")")).orElseGet(() -> Fragment.of(""));
        return start.then(next).then(condition).between("", ") select " + names + " from vacancy_found");
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
     * Counts the rows that meet a condition, for each combination of values of some columns.
     *
     * @param columns the columns, at least one
     * @param table the table
     * @param where the condition
     * @return a query of the columns and the number behind them
     */
    public static Fragment countBy(List<String> columns, String table, Fragment where) {
        List<String> read = new ArrayList<>(columns);
        read.add("count(*)");
        return select(read, table, where).between("", " group by " + String.join(", ", columns));
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
