package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.trail.StoredEntry;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * A record that comes back.
 *
 * @param entry what the trail says of it
 * @param image the values of its columns
 */
record RestorableRow(StoredEntry entry, Map<Column, Object> image) {
    /** The same without all other columns. */
    RestorableRow only(List<Column> key, List<Column> columns) {
        Map<Column, Object> kept = new LinkedHashMap<>();
        key.forEach(column -> kept.put(column, image.get(column)));
        columns.forEach(column -> kept.put(column, image.get(column)));
        return new RestorableRow(entry, kept);
    }

    List<Object> values(List<Column> columns) {
        List<Object> values = new ArrayList<>();
        columns.forEach(column -> values.add(image.get(column)));
        return values;
    }
}
