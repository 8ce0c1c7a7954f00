package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.EntryReader.StepOf;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.StoredEntry;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;

/** One record of a run, and what went or changed with it: whatever pointed at it, and at that, to any depth. */
final class RecordOfRun {
    private final DatabaseCatalog catalog;
    private final Dialect dialect;
    private final Set<Reference> entries = new HashSet<>();
    private final Set<List<String>> coming = new HashSet<>();
    private final Map<Link, Set<List<String>>> referenced = new HashMap<>();

    private RecordOfRun(DatabaseCatalog catalog, Dialect dialect) {
        this.catalog = catalog;
        this.dialect = dialect;
    }

    /**
     * Finds what belongs together.
     *
     * @param runs what is undone, the last one first
     * @param table the record's table
     * @param key its key, as the trail has it
     * @return what belongs to it; empty if the runs have no such record
     */
    static Optional<RecordOfRun> of(
            DatabaseCatalog catalog,
            EntryReader reader,
            Connection connection,
            List<UUID> runs,
            String table,
            String key)
            throws SQLException {
        RecordOfRun chosen = new RecordOfRun(catalog, reader.dialect());
        int before;
        do {
            before = chosen.entries.size();
            for (UUID run : runs) {
                List<StepOf> steps = reader.steps(connection, run);
                for (int i = steps.size() - 1; i >= 0; i--) {
                    reader.each(connection, run, steps.get(i).number(), portion -> {
                        for (StoredEntry entry : portion) {
                            boolean root = entry.table().equals(table) && key.equals(entry.key());
                            chosen.look(entry, root);
                        }
                    });
                }
            }
        } while (chosen.entries.size() > before);
        return chosen.entries.isEmpty() ? Optional.empty() : Optional.of(chosen);
    }

    /** All of them. */
    Set<Reference> entries() {
        return entries;
    }

    boolean contains(StoredEntry entry) {
        return entries.contains(entry.reference());
    }

    /** Whether a record that went is one of them. */
    boolean brings(String table, String key) {
        return coming.contains(List.of(table, key));
    }

    private void look(StoredEntry entry, boolean root) {
        Optional<Table> table = catalog.tables().stream()
                .filter(each -> each.name().equals(entry.table()))
                .findFirst();
        Optional<Map<String, Object>> image = entry.image();
        if (table.isEmpty() || image.isEmpty() || contains(entry)) {
            return;
        }
        boolean hangs = root
                || catalog.linksFrom(table.get()).stream()
                        .anyMatch(link -> values(image.get(), link.childColumns())
                                .map(referenced.getOrDefault(link, Set.of())::contains)
                                .orElse(false));
        if (hangs) {
            entries.add(entry.reference());
            if (entry.action().removes()) {
                coming.add(List.of(entry.table(), entry.keyText()));
                catalog.linksTo(table.get())
                        .forEach(link -> values(image.get(), link.parentColumns())
                                .ifPresent(values -> referenced
                                        .computeIfAbsent(link, missing -> new HashSet<>())
                                        .add(values)));
            }
        }
    }

    private Optional<List<String>> values(Map<String, Object> image, List<Column> columns) {
        List<String> values = new ArrayList<>();
        for (Column column : columns) {
            Object value = image.get(column.name());
            if (value == null) {
                return Optional.empty();
            }
            values.add(dialect.codec(column).keyOf(value));
        }
        return Optional.of(values);
    }
}
