package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * What the trail says of some records of a table, found by their keys.
 *
 * @param reader reads entries
 * @param connection an open connection
 * @since 0.1
 */
public record RecordHistory(EntryReader reader, Connection connection) {
    private static final List<String> READ =
            List.of("run_no", "step", "place", "action", "record_key", "about_run", "about_step", "about_place");

    /**
     * One entry, without what it holds.
     *
     * @param reference which one
     * @param action what happened
     * @param key the record's key
     * @param about the entry that it is about
     */
    public record Mention(Reference reference, Action action, String key, Optional<Reference> about) {}

    /**
     * Finds the entries by which records went that can come back.
     *
     * @param table the records' table
     * @param keys their keys, at least one
     * @param runs the numbers of the runs
     * @return the entries of these runs that have the record's content
     * @throws SQLException when the database doesn't answer
     */
    public List<Mention> kept(String table, List<String> keys, Set<Long> runs) throws SQLException {
        return mentions(table, keys, true).stream()
                .filter(mention -> mention.action().removes())
                .filter(mention -> runs.contains(mention.reference().run()))
                .toList();
    }

    /**
     * Finds the records that went after a run and haven't been brought back since: whatever has their key now is another record.
     *
     * @param table the records' table
     * @param keys their keys, at least one
     * @param run the number of the run
     * @param besides the numbers of runs that don't count, as they are being undone
     * @param marked whether a record that was marked counts as gone
     * @return the keys of those that went
     * @throws SQLException when the database doesn't answer
     */
    public Set<String> goneSince(String table, List<String> keys, long run, Set<Long> besides, boolean marked)
            throws SQLException {
        List<Mention> mentions = mentions(table, keys, false).stream()
                .filter(mention -> mention.reference().run() != run
                        && !besides.contains(mention.reference().run()))
                .toList();
        if (mentions.isEmpty()) {
            return Set.of();
        }
        Set<Long> numbers = new HashSet<>(Set.of(run));
        mentions.forEach(mention -> numbers.add(mention.reference().run()));
        Map<Long, Long> places = places(numbers);
        Map<String, List<Mention>> since = mentions.stream()
                .filter(mention -> places.getOrDefault(mention.reference().run(), 0L) > places.getOrDefault(run, 0L))
                .sorted(Comparator.<Mention, Long>comparing(
                                mention -> places.get(mention.reference().run()))
                        .thenComparing(Mention::reference))
                .collect(Collectors.groupingBy(Mention::key));
        return since.entrySet().stream()
                .filter(record -> isGone(record.getValue(), marked))
                .map(Map.Entry::getKey)
                .collect(Collectors.toSet());
    }

    /** Whatever went while the record was away was another one that had its key. */
    private static boolean isGone(List<Mention> inOrder, boolean marked) {
        Optional<Reference> away = Optional.empty();
        for (Mention mention : inOrder) {
            boolean removes =
                    marked ? mention.action().removes() : mention.action().isDeletion();
            if (away.isEmpty() && removes) {
                away = Optional.of(mention.reference());
            } else if (away.isPresent() && away.equals(mention.about())) {
                away = Optional.empty();
            }
        }
        return away.isPresent();
    }

    private Map<Long, Long> places(Set<Long> numbers) throws SQLException {
        String list = numbers.stream().map(String::valueOf).collect(Collectors.joining(", "));
        String sql = "select run_no, place from " + reader.tables().runs() + " where run_no in (" + list + ")";
        return OwnRows.read(connection, sql, row -> Map.entry(row.getLong(1), row.getLong(2))).stream()
                .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue));
    }

    private List<Mention> mentions(String table, List<String> keys, boolean whole) throws SQLException {
        List<String> wanted = keys.stream().filter(Objects::nonNull).distinct().toList();
        if (wanted.isEmpty()) {
            return List.of();
        }
        String alias = Statements.alias();
        // Which run it was is looked at here: by the run, a database would read all of its entries.
        Fragment further = Fragment.of(
                alias + ".table_name = ? and " + alias + ".action in ('deleted', 'purged', 'marked', 'restored')"
                        + (whole ? " and " + alias + ".content is not null" : ""),
                Binding.of(table));
        return OwnRows.read(connection, new EntriesByKey(reader).byKeys(READ, wanted, further), RecordHistory::mention);
    }

    private static Mention mention(ResultSet row) throws SQLException {
        long about = row.getLong(6);
        Optional<Reference> original =
                row.wasNull() ? Optional.empty() : Optional.of(new Reference(about, row.getInt(7), row.getLong(8)));
        return new Mention(
                new Reference(row.getLong(1), row.getInt(2), row.getLong(3)),
                Action.of(row.getString(4)),
                row.getString(5),
                original);
    }
}
