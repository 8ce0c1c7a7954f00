package dev.vacancy.internal.engine;

import dev.vacancy.Outcome;
import dev.vacancy.catalog.Key;
import dev.vacancy.history.RestoreOutcome;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Records that are another than they were: gone, marked, with another content, or there again.
 *
 * @param tables the names of all tables in which something has changed
 * @param marked those of them whose records are marked and stay
 * @param gone of some of these tables the keys of the records that are gone or marked
 * @param changed of the same tables the keys of records that have another content; of all other tables any record may be gone or changed
 */
public record ChangedRecords(
        Set<String> tables, Set<String> marked, Map<String, Set<Key>> gone, Map<String, Set<Key>> changed) {
    /** Keeps its own copies. */
    public ChangedRecords {
        tables = Set.copyOf(tables);
        marked = Set.copyOf(marked);
        gone = Map.copyOf(gone);
        changed = Map.copyOf(changed);
    }

    /**
     * Tells what a run has changed.
     *
     * @param outcome what it did
     * @param told the tables of which it tells the keys
     * @param stamped the tables whose records say who changed them last, which a run writes on parents of marked records
     * @return the records
     */
    static ChangedRecords by(Outcome outcome, Set<String> told, Set<String> stamped) {
        Set<String> tables = tables(outcome.counts(), outcome.changed());
        Set<String> exact = new HashSet<>(told);
        if (!outcome.marked().isEmpty()) {
            tables.addAll(stamped);
            exact.removeAll(stamped);
        }
        return new ChangedRecords(
                tables, outcome.marked(), keys(outcome.keys(), exact), keys(outcome.changedKeys(), exact));
    }

    private static Map<String, Set<Key>> keys(Map<String, List<Key>> all, Set<String> tables) {
        Map<String, Set<Key>> keys = new LinkedHashMap<>();
        tables.forEach(table -> keys.put(table, new HashSet<>(all.getOrDefault(table, List.of()))));
        return keys;
    }

    /**
     * Tells what a restore has changed.
     *
     * @param outcome what it did
     * @return all records of the tables that it touched
     */
    static ChangedRecords by(RestoreOutcome outcome) {
        return anyOf(tables(outcome.counts(), outcome.putBack()));
    }

    /**
     * Tells that any record of some tables may be another.
     *
     * @param tables their names
     * @return all records of them
     */
    static ChangedRecords anyOf(Collection<String> tables) {
        return new ChangedRecords(new HashSet<>(tables), Set.of(), Map.of(), Map.of());
    }

    private static Set<String> tables(Map<String, Long> counts, Map<String, Long> links) {
        Set<String> tables = new LinkedHashSet<>(counts.keySet());
        links.keySet().forEach(link -> tables.add(tableOf(link)));
        return tables;
    }

    /** The table of a link's foreign key, as {@link dev.vacancy.catalog.Link#where} gives it. */
    private static String tableOf(String link) {
        return link.substring(0, link.endsWith(")") ? link.lastIndexOf(".(") : link.lastIndexOf('.'));
    }
}
