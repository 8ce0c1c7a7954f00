package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.follow.EntryValues;
import dev.vacancy.internal.trail.StoredEntry;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.bson.BsonDocument;
import org.bson.BsonType;
import org.bson.BsonValue;

/** Fields of documents, by their paths, as entries of the trail have them. */
final class DocumentValues implements EntryValues {
    @Override
    public Optional<Map<String, Object>> before(StoredEntry entry, List<Column> columns) {
        return content(entry).map(document -> chosen(document, columns));
    }

    @Override
    public Optional<Map<String, Object>> after(StoredEntry entry, List<Column> columns) {
        return content(entry).map(document -> {
            altered(entry)
                    .ifPresent(altered -> altered.forEach((name, value) ->
                            Paths.put(document, name, value.getBsonType() == BsonType.UNDEFINED ? null : value)));
            return chosen(document, columns);
        });
    }

    @Override
    public Optional<Map<String, Object>> set(StoredEntry entry, List<Column> columns) {
        return altered(entry).map(document -> chosen(document, columns));
    }

    private static Optional<BsonDocument> content(StoredEntry entry) {
        return Optional.ofNullable(entry.content()).map(ContentText::read);
    }

    private static Optional<BsonDocument> altered(StoredEntry entry) {
        return Optional.ofNullable(entry.altered()).map(ContentText::read);
    }

    /** Fields of a document as people read them. */
    static Map<String, Object> shown(BsonDocument document, List<Column> columns) {
        Map<String, Object> shown = chosen(document, columns);
        shown.replaceAll((name, value) -> Values.shown((BsonValue) value));
        return shown;
    }

    private static Map<String, Object> chosen(BsonDocument document, List<Column> columns) {
        Map<String, Object> chosen = new LinkedHashMap<>();
        for (Column column : columns) {
            BsonValue value = Paths.value(document, column.storedName());
            if (value != null) {
                chosen.put(column.name(), value);
            }
        }
        return chosen;
    }
}
