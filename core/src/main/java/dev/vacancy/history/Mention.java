package dev.vacancy.history;

import java.util.List;
import java.util.Optional;
import java.util.UUID;

/**
 * A place where a text that is looked for stands in the audit trail, or in the tables of bulk runs.
 *
 * @param run the run, or the bulk run
 * @param table the table of the record, or the one that the run was about
 * @param key the record's key, as text; empty where the run itself mentions it
 * @param places which columns of the record, or which of {@code actor}, {@code colleague}, {@code reason}, {@code selection} and {@code
 *     name} of the run; {@code key} for the key itself
 * @param whole whether all that the entry says of the record goes, as the text stands in its key, or in a column that isn't text
 * @since 0.1
 */
public record Mention(UUID run, String table, Optional<String> key, List<String> places, boolean whole) {
    /** Keeps its own copy of the list. */
    public Mention {
        places = List.copyOf(places);
    }

    /**
     * Says where it is.
     *
     * @return such as {@code hive 12: name, note} or {@code run 0d5c…: reason}
     */
    @Override
    public String toString() {
        return key.map(text -> table + " " + text).orElse("run " + run) + ": " + String.join(", ", places);
    }
}
