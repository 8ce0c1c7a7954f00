package dev.vacancy.internal.engine;

import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.catalog.TypedValues;
import java.util.Map;
import java.util.Optional;

/** The content of a record in the types that its columns have, whether a driver or the trail tells of it. */
final class TypedContent {
    private TypedContent() {}

    static Map<String, Object> of(RecordContent record) {
        return TypedValues.of(record.values(), record.table());
    }

    static Optional<Map<String, Object>> of(TrailEntry entry, DatabaseCatalog catalog) {
        Optional<Map<String, Object>> image = entry.before().or(entry::after);
        Optional<Table> table = catalog.tables().stream()
                .filter(candidate -> candidate.name().equalsIgnoreCase(entry.table()))
                .findFirst();
        return table.isEmpty() ? image : image.map(values -> TypedValues.of(values, table.get()));
    }
}
