package dev.vacancy.internal.follow;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.trail.StoredEntry;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The columns of rows, as their images have them. */
final class ImageValues implements EntryValues {
    @Override
    public Optional<Map<String, Object>> before(StoredEntry entry, List<Column> columns) {
        return entry.image().map(image -> chosen(image, columns));
    }

    @Override
    public Optional<Map<String, Object>> after(StoredEntry entry, List<Column> columns) {
        return entry.image().map(image -> {
            Map<String, Object> changed = new LinkedHashMap<>(image);
            entry.alteration().ifPresent(changed::putAll);
            return chosen(changed, columns);
        });
    }

    @Override
    public Optional<Map<String, Object>> set(StoredEntry entry, List<Column> columns) {
        return entry.alteration().map(image -> chosen(image, columns));
    }

    private static Map<String, Object> chosen(Map<String, Object> image, List<Column> columns) {
        Map<String, Object> chosen = new LinkedHashMap<>();
        for (Column column : columns) {
            if (image.containsKey(column.name())) {
                chosen.put(column.name(), image.get(column.name()));
            }
        }
        return chosen;
    }
}
