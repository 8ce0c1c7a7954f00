package dev.vacancy.internal.follow;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.trail.StoredEntry;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Reads columns of a record out of an entry of the trail, in the store's own values.
 *
 * @since 0.1
 */
public interface EntryValues {
    /**
     * Reads what columns were.
     *
     * @param entry the entry
     * @param columns the columns
     * @return their values, by name; empty where the trail has lost them
     */
    Optional<Map<String, Object>> before(StoredEntry entry, List<Column> columns);

    /**
     * Reads what columns became.
     *
     * @param entry the entry
     * @param columns the columns
     * @return their values, by name; empty where the trail has lost them
     */
    Optional<Map<String, Object>> after(StoredEntry entry, List<Column> columns);

    /**
     * Reads what columns were set to.
     *
     * @param entry the entry
     * @param columns the columns
     * @return the values of those that were set, by name; empty if the entry tells of none
     */
    Optional<Map<String, Object>> set(StoredEntry entry, List<Column> columns);
}
