package dev.vacancy.dialect;

import java.sql.DatabaseMetaData;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.OptionalInt;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * H2, version 2.3 and later. A connection's own limit for locks, two seconds unless its URL says otherwise, is a short
 * wait already.
 */
final class H2Dialect implements Dialect {
    private static final int LOCK_TIMEOUT = 50200;
    private static final int DEADLOCK = 40001;
    private static final int CONCURRENT_UPDATE = 90131;
    private static final int DEEPEST_RECURSION = 10_000;

    /** Beyond this many keys the time for an array, which grows with its square, is more than that for a table. */
    private static final int MOST_IN_ARRAY = 2_000;

    @Override
    public String name() {
        return "H2";
    }

    @Override
    public boolean speaks(DatabaseMetaData database) throws SQLException {
        return "H2".equals(database.getDatabaseProductName());
    }

    @Override
    public boolean isSystemSchema(String schema) {
        return "INFORMATION_SCHEMA".equals(schema);
    }

    @Override
    public boolean checksRowByRow() {
        return true;
    }

    /** A recursive query keeps going round a circle of records; this bounds it. */
    @Override
    public OptionalInt deepestRecursion() {
        return OptionalInt.of(DEEPEST_RECURSION);
    }

    @Override
    public boolean isLockFailure(SQLException failure) {
        int code = failure.getErrorCode();
        return code == LOCK_TIMEOUT || code == DEADLOCK || code == CONCURRENT_UPDATE;
    }

    @Override
    public Fragment value(String type, Object value) {
        return Fragment.of("?", Binding.of(value));
    }

    @Override
    public Fragment among(List<String> columns, KeySet keys) {
        if (keys.tuples().size() > MOST_IN_ARRAY) {
            return KeyTable.of(keys).among(columns);
        }
        Fragment first = Fragment.of(columns.get(0) + " = any(?)", array(distinct(keys.column(0)), keys, 0));
        return columns.size() == 1 ? first : Fragment.join(" and ", List.of(first, exists(columns, keys)));
    }

    /**
     * Looks each row up in the set. The condition on the first column beside it finds those rows by an index: H2 would
     * read the whole table for this one alone, and for {@code in (select … from unnest(…))} runs the inner query anew
     * for each row.
     */
    private static Fragment exists(List<String> columns, KeySet keys) {
        List<Binding> bindings = new ArrayList<>();
        List<String> arrays = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            arrays.add("cast(? as " + keys.types().get(i) + " array)");
            bindings.add(array(keys.column(i), keys, i));
        }
        String names = IntStream.range(0, columns.size()).mapToObj(i -> "k" + i).collect(Collectors.joining(", "));
        String matches = IntStream.range(0, columns.size())
                .mapToObj(i -> "k" + i + " = " + columns.get(i))
                .collect(Collectors.joining(" and "));
        String sql = "exists (select 1 from unnest(" + String.join(", ", arrays) + ") as vacancy_keys(" + names
                + ") where " + matches + ")";
        return new Fragment(sql, bindings);
    }

    private static Object[] distinct(Object[] values) {
        return Arrays.stream(values).distinct().toArray();
    }

    private static Binding array(Object[] values, KeySet keys, int column) {
        return (statement, index) -> statement.setArray(
                index, statement.getConnection().createArrayOf(keys.types().get(column), values));
    }
}
