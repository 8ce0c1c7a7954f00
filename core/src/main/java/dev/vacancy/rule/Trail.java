package dev.vacancy.rule;

import dev.vacancy.internal.request.GivenTrail;
import java.util.List;
import java.util.Optional;

/**
 * Where the audit trail is kept, in the database of the records: a table of runs and one of entries.
 *
 * @since 0.1
 */
public sealed interface Trail permits GivenTrail {
    /** {@return the schema of both, or empty for the connection's own} */
    Optional<String> schema();

    /** {@return the name of the table of runs} */
    String runs();

    /** {@return the name of the table of entries} */
    String entries();

    /** {@return columns whose content is never written into the trail, such as {@code keeper.pin}} */
    List<String> withheld();

    /**
     * Keeps it in {@code vacancy_trail_run} and {@code vacancy_trail_entry} of the connection's own schema.
     *
     * @return the trail
     */
    static Trail defaults() {
        return new GivenTrail(Optional.empty(), "vacancy_trail_run", "vacancy_trail_entry", List.of());
    }

    /**
     * Returns the same in another schema.
     *
     * @param name the schema; a name that was made without quotes in small letters, any other as the database stores it
     * @return the trail
     */
    default Trail inSchema(String name) {
        return new GivenTrail(Optional.of(name), runs(), entries(), withheld());
    }

    /**
     * Returns the same with other tables.
     *
     * @param runsTable the table of runs
     * @param entriesTable the table of entries
     * @return the trail
     */
    default Trail named(String runsTable, String entriesTable) {
        return new GivenTrail(schema(), runsTable, entriesTable, withheld());
    }

    /**
     * Returns the same without the content of some columns: passwords, tokens, whatever must not be kept.
     *
     * @param columns such as {@code keeper.pin}
     * @return the trail
     */
    default Trail without(String... columns) {
        return new GivenTrail(schema(), runs(), entries(), List.of(columns));
    }
}
