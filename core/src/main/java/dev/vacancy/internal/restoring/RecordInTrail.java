package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Table;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import java.util.Comparator;
import java.util.Optional;

/**
 * One record, with what went with it.
 *
 * @param table the name of its table
 * @param key its key, as the trail spells it
 * @since 0.1
 */
public record RecordInTrail(String table, String key) {
    static Optional<RecordInTrail> of(RestorePlan plan, DatabaseCatalog catalog) {
        return plan.only().map(record -> of(record, catalog));
    }

    /** Reads what {@link #toString} gives; a table's name may hold blanks. */
    static RecordInTrail of(String record, DatabaseCatalog catalog) {
        String table = catalog.tables().stream()
                .map(Table::name)
                .filter(name -> record.startsWith(name + " "))
                .max(Comparator.comparing(String::length))
                .orElseGet(() -> record.substring(0, record.indexOf(' ')));
        return new RecordInTrail(table, record.substring(table.length() + 1));
    }

    @Override
    public String toString() {
        return table + " " + key;
    }
}
