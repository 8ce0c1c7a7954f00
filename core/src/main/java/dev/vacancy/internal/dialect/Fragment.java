package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A piece of SQL together with the values of its question marks, so that the two can't ignored apart.
 *
 * @param sql the text
 * @param bindings one for each question mark, in their order
 * @param preparations what has to be there before the statement is
 * @param joining the same condition as a join, where that finds the rows quicker
 * @since 0.1
 */
public record Fragment(String sql, List<Binding> bindings, List<Preparation> preparations, Optional<Joining> joining) {
    private static final Logger LOG = LoggerFactory.getLogger(Fragment.class);
    private static final int FEW = 8;

    /** Keeps its own copies of the lists. */
    public Fragment {
        bindings = List.copyOf(bindings);
        preparations = List.copyOf(preparations);
    }

    /**
     * Makes a fragment that needs no preparation.
     *
     * @param sql the text
     * @param bindings one for each question mark
     */
    public Fragment(String sql, List<Binding> bindings) {
        this(sql, bindings, List.of());
    }

    /**
     * Makes a fragment that is no other condition's equal.
     *
     * @param sql the text
     * @param bindings one for each question mark
     * @param preparations what has to be there before the statement is
     */
    public Fragment(String sql, List<Binding> bindings, List<Preparation> preparations) {
        this(sql, bindings, preparations, Optional.empty());
    }

    /**
     * A condition on the rows of a table, said as a join of that table with another one. No row of the table finds two of the
     * other.
     *
     * @param table the other table, with an alias
     * @param on which of its rows belong together
     */
    public record Joining(Fragment table, Fragment on) {}

    /** Something a statement needs on its connection, such as a temporary table that it names. */
    @FunctionalInterface
    public interface Preparation {
        /**
         * Sees to it, unless it is there already.
         *
         * @param connection the statement's connection
         * @throws SQLException when the database refuses
         */
        void on(Connection connection) throws SQLException;
    }

    /**
     * Makes a fragment.
     *
     * @param sql the text
     * @param bindings one for each question mark
     * @return the fragment
     */
    public static Fragment of(String sql, Binding... bindings) {
        return new Fragment(sql, List.of(bindings));
    }

    /**
     * Puts whole statements one behind the other, to travel together.
     *
     * @param statements at least one
     * @return the statements, with semicolons between them
     */
    public static Fragment sequence(List<Fragment> statements) {
        return new Fragment(
                statements.stream().map(statement -> statement.sql).collect(Collectors.joining("; ")),
                statements.stream()
                        .flatMap(statement -> statement.bindings.stream())
                        .toList(),
                statements.stream()
                        .flatMap(statement -> statement.preparations.stream())
                        .toList());
    }

    /**
     * Joins fragments, each in parentheses.
     *
     * @param separator what stands between two of them, such as {@code " and "}
     * @param parts at least one
     * @return the whole
     */
    public static Fragment join(String separator, List<Fragment> parts) {
        String sql = parts.stream().map(part -> "(" + part.sql + ")").collect(Collectors.joining(separator));
        return new Fragment(
                sql,
                parts.stream().flatMap(part -> part.bindings.stream()).toList(),
                parts.stream().flatMap(part -> part.preparations.stream()).toList());
    }

    /**
     * Joins any number of fragments, each in parentheses, halves of halves: a database that takes a thousand levels would
     * take a plain row of ORs for as many.
     *
     * @param separator what stands between two of them, such as {@code " or "}
     * @param parts at least one
     * @return the whole
     */
    public static Fragment joinAll(String separator, List<Fragment> parts) {
        int size = parts.size();
        if (size == 1) {
            return parts.get(0);
        }
        return size <= FEW
                ? join(separator, parts)
                : join(
                        separator,
                        List.of(
                                joinAll(separator, parts.subList(0, size / 2)),
                                joinAll(separator, parts.subList(size / 2, size))));
    }

    /**
     * Says that all of several conditions are met.
     *
     * @param parts at least one
     * @return the whole, as a join too if one of them is
     */
    public static Fragment allOf(List<Fragment> parts) {
        Fragment all = joinAll(" and ", parts);
        for (Fragment part : parts) {
            if (part.joining.isPresent()) {
                List<Fragment> on = new ArrayList<>(parts);
                on.set(parts.indexOf(part), part.joining.get().on());
                return all.joining(new Joining(part.joining.get().table(), joinAll(" and ", on)));
            }
        }
        return all;
    }

    /**
     * Returns this condition with another way to say it.
     *
     * @param other the same condition as a join
     * @return the condition with both
     */
    public Fragment joining(Joining other) {
        return new Fragment(sql, bindings, preparations, Optional.of(other));
    }

    /**
     * Returns this fragment with text before and after it.
     *
     * @param before text without question marks
     * @param after text without question marks
     * @return the longer fragment
     */
    public Fragment between(String before, String after) {
        return new Fragment(before + sql + after, bindings, preparations);
    }

    /**
     * Returns this fragment with another one behind it.
     *
     * @param next what follows
     * @return the longer fragment
     */
    public Fragment then(Fragment next) {
        return new Fragment(sql + next.sql, joined(bindings, next.bindings), joined(preparations, next.preparations));
    }

    /**
     * Prepares the statement and binds its values.
     *
     * @param connection where to run it; it stays open
     * @return the statement, which the caller closes
     * @throws SQLException when the database refuses the text or a value
     */
    public PreparedStatement prepare(Connection connection) throws SQLException {
        for (Preparation preparation : preparations) {
            preparation.on(connection);
        }
        LOG.debug("{}", sql);
        PreparedStatement statement = connection.prepareStatement(sql);
        try {
            for (int i = 0; i < bindings.size(); i++) {
                bindings.get(i).bind(statement, i + 1);
            }
            return statement;
        } catch (SQLException | RuntimeException refused) {
            statement.close();
            throw refused;
        }
    }

    private static <T> List<T> joined(List<T> first, List<T> second) {
        return Stream.concat(first.stream(), second.stream()).toList();
    }
}
