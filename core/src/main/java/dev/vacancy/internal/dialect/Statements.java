package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * Renders the few statements that all databases share. Every name it is given is quoted already; every value is bound
 * by the fragment that carries it.
 *
 * <p>A table is called by an alias of ours wherever it stands, and each column is qualified by such an alias. So no name of
 * the user's is ever looked up but behind its schema, and none of ours can hide one.
 *
 * @since 0.1
 */
public final class Statements {
    private static final String FIRST_ALIAS = "t0";

    /** A name that no table has: H2 would take a table of this name for the found rows. */
    private static final String FOUND = "found_" + UUID.randomUUID().toString().replace('-', '_');

    private Statements() {}

    /**
     * Returns what the table is called that a statement is about.
     *
     * @return the alias
     */
    public static String alias() {
        return FIRST_ALIAS;
    }

    /**
     * Returns what a table is called in a query inside another one.
     *
     * @param outer an alias of the query around it
     * @return the next alias
     */
    public static String aliasInside(String outer) {
        return "t" + (Integer.parseInt(outer.substring(1)) + 1);
    }

    /**
     * Reads columns of rows.
     *
     * @param columns the columns to read, at least one
     * @param from what stands behind FROM
     * @return the query
     */
    public static Fragment select(List<String> columns, Fragment from) {
        return from.between("select " + String.join(", ", columns) + " from ", "");
    }

    /**
     * Orders a query. The order is taken over the query's result: H2 would sort by the index that finds the keys, and
     * gets that wrong when the same statement runs a second time.
     *
     * @param columns what to order by; they are read first
     * @param read the further columns to read
     * @param from what stands behind FROM
     * @return a query of the further columns; without columns to order by, in any order
     */
    public static Fragment ordered(List<String> columns, List<String> read, Fragment from) {
        if (columns.isEmpty()) {
            return select(read, from);
        }
        List<String> named = new ArrayList<>();
        List<String> order = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            named.add(columns.get(i) + " as o" + i);
            order.add("f.o" + i);
        }
        for (int i = 0; i < read.size(); i++) {
            named.add(read.get(i) + " as c" + i);
        }
        String names = IntStream.range(0, read.size()).mapToObj(i -> "f.c" + i).collect(Collectors.joining(", "));
        return select(named, from)
                .between("select " + names + " from (", ") as f order by " + String.join(", ", order));
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
        return columns.isEmpty() ? query : query.between("", " order by " + String.join(", ", columns));
    }

    /**
     * Reads the rows that are reached from a first few along a link of a table to itself, to any depth.
     *
     * @param dialect the dialect of the database
     * @param table the table
     * @param columns the columns to read, qualified by {@link #alias}
     * @param read how to read each of them, as {@link Codec#exact} says it
     * @param first picks the first rows
     * @param further what each further row must meet beside pointing at one found before, or empty
     * @param pointing the columns of the foreign key, qualified, as they are compared
     * @param pointedAt where the columns that it points to stand among those that are read, from 0
     * @param rounds how often to go down, or empty for any number
     * @return the query; where the rounds are limited, a row may come several times
     */
    public static Fragment descendants(
            Dialect dialect,
            String table,
            List<String> columns,
            List<ColumnType> read,
            Fragment first,
            Optional<Fragment> further,
            List<String> pointing,
            List<Integer> pointedAt,
            OptionalInt rounds) {
        String names = IntStream.range(0, columns.size()).mapToObj(i -> "c" + i).collect(Collectors.joining(", "));
        String found = IntStream.range(0, columns.size())
                .mapToObj(i -> dialect.codec(read.get(i)).exact("f.c" + i))
                .collect(Collectors.joining(", "));
        String matches = IntStream.range(0, pointing.size())
                .mapToObj(i -> pointing.get(i) + " = f.c" + pointedAt.get(i))
                .collect(Collectors.joining(" and "));
        boolean bounded = rounds.isPresent();
        String all = String.join(", ", columns);
        Fragment start = first.between(
                "with recursive " + FOUND + "(" + names + (bounded ? ", depth" : "") + ") as (select " + all
                        + (bounded ? ", 1" : "") + " from " + table + " as " + FIRST_ALIAS + " where ",
                bounded ? " union all " : " union ");
        Fragment next = Fragment.of("select " + all + (bounded ? ", f.depth + 1" : "") + " from " + FOUND + " as f"
                + dialect.joinRecursively(table, FIRST_ALIAS, matches)
                + (bounded ? " where f.depth < " + rounds.getAsInt() : " where 1 = 1"));
        Fragment condition = further.map(part -> part.between(" and (", ")")).orElseGet(() -> Fragment.of(""));
        return start.then(next)
                .then(condition)
                .between("", ") select " + (bounded ? "distinct " : "") + found + " from " + FOUND + " as f");
    }

    /**
     * Sets columns to values.
     *
     * @param columns the columns, at least one
     * @param values one for each
     * @return what stands behind SET
     */
    static Fragment assignments(List<String> columns, List<Fragment> values) {
        Fragment assignments = Fragment.of("");
        for (int i = 0; i < columns.size(); i++) {
            assignments = assignments.then(values.get(i).between((i == 0 ? "" : ", ") + columns.get(i) + " = ", ""));
        }
        return assignments;
    }
}
