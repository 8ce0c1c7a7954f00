package dev.vacancy.rule;

import java.util.List;
import java.util.Optional;

/**
 * Where the audit trail is kept, in the database of the records: a table of runs and one of entries.
 *
 * @param schema the schema of both, or empty for the connection's own
 * @param runs the name of the table of runs
 * @param entries the name of the table of entries
 * @param withheld columns whose content is never written into the trail, such as {@code keeper.pin}
 * @since 0.1
 */
public record Trail(Optional<String> schema, String runs, String entries, List<String> withheld) {
    /** Keeps its own copy of the list. */
    public Trail {
        withheld = List.copyOf(withheld);
    }

    /**
     * Keeps it in {@code vacancy_trail_run} and {@code vacancy_trail_entry} of the connection's own schema.
     *
     * @return the trail
     */
    public static Trail defaults() {
        return new Trail(Optional.empty(), "vacancy_trail_run", "vacancy_trail_entry", List.of());
    }

    /**
     * Returns the same in another schema.
     *
     * @param name the schema; a name that was made without quotes in small letters, any other as the database stores it
     * @return the trail
     */
    public Trail inSchema(String name) {
        return new Trail(Optional.of(name), runs, entries, withheld);
    }

    /**
     * Returns the same with other tables.
     *
     * @param runsTable the table of runs
     * @param entriesTable the table of entries
     * @return the trail
     */
    public Trail named(String runsTable, String entriesTable) {
        return new Trail(schema, runsTable, entriesTable, withheld);
    }

    /**
     * Returns the same without the content of some columns: passwords, tokens, whatever must not be kept.
     *
     * @param columns such as {@code keeper.pin}
     * @return the trail
     */
    public Trail without(String... columns) {
        return new Trail(schema, runs, entries, List.of(columns));
    }
}
