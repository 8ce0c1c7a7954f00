package dev.vacancy.dialect;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A piece of SQL together with the values of its question marks, so that the two can't drift apart.
 *
 * @param sql the text
 * @param bindings one for each question mark, in their order
 * @since 0.1
 */
public record Fragment(String sql, List<Binding> bindings) {
    private static final Logger LOG = LoggerFactory.getLogger(Fragment.class);

    /** Keeps its own copy of the bindings. */
    public Fragment {
        bindings = List.copyOf(bindings);
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
     * Joins fragments, each in parentheses.
     *
     * @param separator what stands between two of them, such as {@code " and "}
     * @param parts at least one
     * @return the whole
     */
    public static Fragment join(String separator, List<Fragment> parts) {
        String sql = parts.stream().map(part -> "(" + part.sql + ")").collect(Collectors.joining(separator));
        return new Fragment(
                sql, parts.stream().flatMap(part -> part.bindings.stream()).toList());
    }

    /**
     * Returns this fragment with text before and after it.
     *
     * @param before text without question marks
     * @param after text without question marks
     * @return the longer fragment
     */
    public Fragment between(String before, String after) {
        return new Fragment(before + sql + after, bindings);
    }

    /**
     * Returns this fragment with another one behind it.
     *
     * @param next what follows
     * @return the longer fragment
     */
    public Fragment then(Fragment next) {
        List<Binding> all = new ArrayList<>(bindings);
        all.addAll(next.bindings);
        return new Fragment(sql + next.sql, all);
    }

    /**
     * Prepares the statement and binds its values.
     *
     * @param connection where to run it; it stays open
     * @return the statement, which the caller closes
     * @throws SQLException when the database refuses the text or a value
     */
    public PreparedStatement prepare(Connection connection) throws SQLException {
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
}
