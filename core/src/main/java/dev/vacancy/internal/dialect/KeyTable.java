package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.HexFormat;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * A set of keys as a temporary table of H2, which only its connection sees and which is gone with the transaction. It is
 * made without a commit: H2 commits when an index is added, but not for a transactional table that begins with its key.
 *
 * @param name the same for the same keys, so that statements of one transaction share it
 * @param keys its rows, each once and none of its values null
 */
record KeyTable(String name, KeySet keys) {
    private static final int BATCH = 1_000;
    private static final int NAME_BYTES = 12;

    static KeyTable of(KeySet keys) {
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            digest.update(keys.types().toString().getBytes(StandardCharsets.UTF_8));
            keys.tuples().forEach(tuple -> tuple.forEach(value -> digest.update(bytes(value))));
            return new KeyTable("VACANCY_KEYS_" + HexFormat.of().formatHex(digest.digest(), 0, NAME_BYTES), keys);
        } catch (NoSuchAlgorithmException missing) {
            throw new IllegalStateException("Every Java platform has SHA-256", missing);
        }
    }

    /** A value with its length in front, so that no two lists of values look the same. */
    private static byte[] bytes(Object value) {
        String text =
                KeySet.toDriver(value) instanceof byte[] bytes ? HexFormat.of().formatHex(bytes) : value.toString();
        return (text.length() + ":" + text).getBytes(StandardCharsets.UTF_8);
    }

    /** Says that columns hold one of the keys. */
    Fragment among(List<String> columns) {
        String matches = IntStream.range(0, columns.size())
                .mapToObj(i -> "k.c" + i + " = " + columns.get(i))
                .collect(Collectors.joining(" and "));
        Fragment table = new Fragment(quoted() + " as k", List.of(), List.of(this::fill));
        return table.between("exists (select 1 from ", " where " + matches + ")")
                .joining(new Fragment.Joining(table, Fragment.of(matches)));
    }

    private String quoted() {
        return '"' + name + '"';
    }

    private void fill(Connection connection) throws SQLException {
        if (isFilled(connection)) {
            return;
        }
        List<ColumnType> types = keys.types();
        String columns = IntStream.range(0, types.size())
                .mapToObj(i -> "c" + i + " " + types.get(i).castable())
                .collect(Collectors.joining(", "));
        String names = IntStream.range(0, types.size()).mapToObj(i -> "c" + i).collect(Collectors.joining(", "));
        execute(
                connection,
                "create local temporary table if not exists " + quoted() + " (" + columns + ", primary key (" + names
                        + ")) on commit drop transactional");
        execute(connection, "delete from " + quoted());
        String marks = types.stream().map(type -> "?").collect(Collectors.joining(", "));
        try (PreparedStatement insert =
                connection.prepareStatement("insert into " + quoted() + " values (" + marks + ")")) {
            int waiting = 0;
            for (List<?> tuple : keys.tuples()) {
                for (int i = 0; i < tuple.size(); i++) {
                    Binding.of(H2Codec.sent(tuple.get(i))).bind(insert, i + 1);
                }
                insert.addBatch();
                if (++waiting % BATCH == 0) {
                    insert.executeBatch();
                }
            }
            insert.executeBatch();
        }
    }

    /** A savepoint that was gone back to leaves the table, but without its rows. */
    private boolean isFilled(Connection connection) throws SQLException {
        return isThere(connection) && count(connection) == keys.tuples().size();
    }

    private boolean isThere(Connection connection) throws SQLException {
        try (PreparedStatement query =
                connection.prepareStatement("select 1 from information_schema.tables where table_name = ?")) {
            query.setString(1, name);
            try (ResultSet row = query.executeQuery()) {
                return row.next();
            }
        }
    }

    private long count(Connection connection) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement("select count(*) from " + quoted());
                ResultSet row = query.executeQuery()) {
            row.next();
            return row.getLong(1);
        }
    }

    private static void execute(Connection connection, String sql) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            statement.execute();
        }
    }
}
