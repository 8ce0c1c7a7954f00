package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * Entries of the trail that are asked for by the keys of their records, whole keys that an index has the beginning of.
 *
 * @param reader reads the others
 * @since 0.1
 */
public record EntriesByKey(EntryReader reader) {
    /**
     * Reads what the trail says of a record, but for what was erased of it.
     *
     * @param connection an open connection
     * @param table the record's table
     * @param key its key
     * @return the entries of all runs
     * @throws SQLException when the database doesn't answer
     */
    public List<StoredEntry> of(Connection connection, String table, String key) throws SQLException {
        String alias = Statements.alias();
        Fragment further = Fragment.of(
                alias + ".table_name = ? and " + alias + ".action not in ('erased', 'masked') and (" + alias
                        + ".erased_by is null or " + alias + ".content is not null or " + alias
                        + ".altered is not null)",
                Binding.of(table));
        List<StoredEntry> found = new ArrayList<>(withKeys(connection, List.of(key), further));
        found.sort(Comparator.comparing(StoredEntry::reference));
        return found;
    }

    /**
     * Reads entries by the keys of their records. A collation may take others for the same, so they are compared once more.
     *
     * @param keys the keys, each once
     * @param connection an open connection
     * @param further what else they have to meet, by the alias of {@link Statements#alias}
     * @return the entries, in no order
     * @throws SQLException when the database doesn't answer
     */
    public List<StoredEntry> withKeys(Connection connection, List<String> keys, Fragment further) throws SQLException {
        Set<String> wanted = Set.copyOf(keys);
        return OwnRows.read(connection, byKeys(EntryReader.COLUMNS, keys, further), EntryReader::entry).stream()
                .filter(entry -> wanted.contains(entry.keyText()))
                .toList();
    }

    /** A query for columns of entries by the keys of their records. */
    Fragment byKeys(List<String> columns, List<String> keys, Fragment further) {
        String alias = Statements.alias();
        List<String> read = columns.stream().map(column -> alias + "." + column).toList();
        return Statements.select(
                read, reader.dialect().foundBy(reader.tables().entries(), alias, "record_key", keys, further));
    }

    /**
     * Tells whether a run has entries of some records.
     *
     * @param connection an open connection
     * @param run the run, which is of one table
     * @param keys the records' keys, each once
     * @return true if it has one of any of them
     * @throws SQLException when the database doesn't answer
     */
    public boolean hasAny(Connection connection, StoredRun run, List<String> keys) throws SQLException {
        Fragment further = Fragment.of(Statements.alias() + ".run_no = ?", Binding.of(run.number()));
        return !withKeys(connection, keys, further).isEmpty();
    }

    /**
     * Tells which runs have entries of a record.
     *
     * @param connection an open connection
     * @param table the record's table
     * @param key its key
     * @return their numbers
     * @throws SQLException when the database doesn't answer
     */
    public Set<Long> runsOf(Connection connection, String table, String key) throws SQLException {
        Fragment further = Fragment.of(Statements.alias() + ".table_name = ?", Binding.of(table));
        Fragment query = byKeys(List.of("run_no", "record_key"), List.of(key), further);
        Set<Long> runs = new TreeSet<>();
        OwnRows.read(connection, query, row -> Map.entry(row.getLong(1), row.getString(2))).stream()
                .filter(found -> found.getValue().equals(key))
                .forEach(found -> runs.add(found.getKey()));
        return runs;
    }
}
