package dev.vacancy.documents.internal;

import com.mongodb.client.MongoCollection;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.Conversion;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Stream;
import org.bson.BsonBinary;
import org.bson.BsonBoolean;
import org.bson.BsonDocument;
import org.bson.BsonDocumentWriter;
import org.bson.BsonNull;
import org.bson.BsonType;
import org.bson.BsonUndefined;
import org.bson.BsonValue;
import org.bson.UuidRepresentation;
import org.bson.codecs.EncoderContext;
import org.bson.codecs.configuration.CodecConfigurationException;
import org.bson.codecs.configuration.CodecRegistry;

/** What a sample of a collection's documents looks like. */
final class SeenCollection {
    /** How many documents are looked at. */
    static final int SAMPLED = 1_000;

    private static final String ID = "_id";
    private static final int DEEPEST = 8;

    private final String name;
    private final Map<String, SeenField> fields = new LinkedHashMap<>();
    private final List<List<String>> indexes = new ArrayList<>();
    private final List<List<String>> uniqueKeys = new ArrayList<>();
    private final Validator validator;
    private final Optional<UuidRepresentation> olderUuids;
    private long sampled;

    private SeenCollection(String name, Validator validator, Optional<UuidRepresentation> olderUuids) {
        this.name = name;
        this.validator = validator;
        this.olderUuids = olderUuids;
        field(ID);
    }

    /** Looks at a collection; what its validator says holds where no document was seen that says otherwise. */
    static SeenCollection of(MongoCollection<BsonDocument> collection, Validator validator) {
        SeenCollection seen = new SeenCollection(
                collection.getNamespace().getCollectionName(), validator, olderUuids(collection.getCodecRegistry()));
        for (BsonDocument document : collection.find().limit(SAMPLED)) {
            seen.sampled++;
            Set<String> there = new HashSet<>();
            seen.see("", Change.unmarked(document), false, 1, there);
            there.forEach(path -> seen.field(path).inDocument());
        }
        Set<String> unseen = new HashSet<>();
        validator.each((path, type, severalTimes) -> {
            SeenField field = seen.field(path);
            if (field.isUnseen() || unseen.contains(path)) {
                unseen.add(path);
                field.expect(type);
                if (severalTimes) {
                    field.expectSeveral();
                }
            }
        });
        for (BsonDocument index : collection.listIndexes(BsonDocument.class)) {
            List<String> paths = List.copyOf(index.getDocument("key").keySet());
            seen.indexes.add(paths);
            if (index.getBoolean("unique", BsonBoolean.FALSE).getValue()
                    && !index.containsKey("partialFilterExpression")) {
                seen.uniqueKeys.add(paths);
            }
        }
        return seen;
    }

    /** What the client writes for a UUID is asked of it; one that isn't told how to write any writes none. */
    private static Optional<UuidRepresentation> olderUuids(CodecRegistry client) {
        UUID any = new UUID(0x0123456789abcdefL, 0x7edcba9876543210L);
        BsonDocument written = new BsonDocument();
        try (BsonDocumentWriter writer = new BsonDocumentWriter(written)) {
            writer.writeStartDocument();
            writer.writeName(ID);
            client.get(UUID.class).encode(writer, any, EncoderContext.builder().build());
            writer.writeEndDocument();
        } catch (CodecConfigurationException unspecified) {
            return Optional.empty();
        }
        return Stream.of(
                        UuidRepresentation.JAVA_LEGACY,
                        UuidRepresentation.C_SHARP_LEGACY,
                        UuidRepresentation.PYTHON_LEGACY)
                .filter(order -> new BsonBinary(any, order).equals(written.get(ID)))
                .findFirst();
    }

    private void see(String before, BsonDocument document, boolean inArray, int depth, Set<String> there) {
        document.forEach((name, value) -> {
            if (Paths.isAddressed(name)) {
                see(before + name, value, inArray, depth, there);
            }
        });
    }

    private void see(String path, BsonValue value, boolean inArray, int depth, Set<String> there) {
        there.add(path);
        if (value.isArray()) {
            if (value.asArray().isEmpty()) {
                field(path).see(value, false);
            }
            value.asArray().forEach(element -> see(path, element, true, depth, there));
            return;
        }
        field(path).see(value, inArray);
        if (value.isDocument() && depth < DEEPEST) {
            see(path + ".", value.asDocument(), inArray, depth + 1, there);
        }
    }

    private SeenField field(String path) {
        return fields.computeIfAbsent(path, missing -> new SeenField(missing, olderUuids));
    }

    /** Adds a field that the rules name, and of which no document of the sample has a value. */
    void expect(String path, BsonType type) {
        SeenField known = fields.values().stream()
                .filter(field -> field.path().equalsIgnoreCase(path))
                .findFirst()
                .orElseGet(() -> field(path));
        if (known.isUnseen()) {
            known.expect(type);
        }
    }

    String name() {
        return name;
    }

    /** What the collection says of its documents by itself. */
    Validator validator() {
        return validator;
    }

    /** How many documents were looked at. */
    long sampled() {
        return sampled;
    }

    /** What was seen at a path. */
    SeenField at(Column column) {
        return fields.get(column.storedName());
    }

    /** The collection as the catalog has it: the fields of documents first, then those that are embedded in them. */
    CatalogTable table() {
        Map<String, Column> columns = new LinkedHashMap<>();
        fields.values().stream()
                .sorted(Comparator.comparing(field -> field.path().indexOf('.') > 0))
                .forEach(field -> columns.put(field.path(), column(field)));
        return new CatalogTable(
                name,
                "",
                name,
                List.copyOf(columns.values()),
                List.of(columns.get(ID)),
                known(uniqueKeys, columns),
                known(indexes, columns),
                new Conversion() {
                    @Override
                    public Object convert(Table table, Column column, Object given) {
                        return converted(column, given);
                    }

                    @Override
                    public boolean takesDocuments() {
                        return true;
                    }
                });
    }

    private static Column column(SeenField field) {
        return new CatalogColumn(
                field.path(), field.path(), field.type(), !field.path().equals(ID), Optional.empty(), false, false);
    }

    private static List<List<Column>> known(List<List<String>> keys, Map<String, Column> columns) {
        return keys.stream()
                .filter(key -> columns.keySet().containsAll(key))
                .map(key -> key.stream().map(columns::get).toList())
                .toList();
    }

    private Object converted(Column column, Object given) {
        if (given == null || given instanceof BsonNull || given instanceof BsonUndefined) {
            throw new InvalidRequestException(
                            FailureCode.MISSING_VALUE,
                            name + "." + column.name() + " is given no value.",
                            "Give a value; null never stands for a document.")
                    .about("table", name)
                    .about("column", column.name());
        }
        return GivenField.converted(at(column), given)
                .orElseThrow(() -> new InvalidRequestException(
                                FailureCode.VALUE_TYPE,
                                name + "." + column.name() + " is " + ColumnType.of(column)
                                        + " as far as was seen, which '" + given + "' is not.",
                                "Give a value of that type; one of another in Extended JSON, such as {\"$oid\": \"…\"}.")
                        .about("table", name)
                        .about("column", column.name())
                        .about("type", ColumnType.of(column))
                        .about("value", given));
    }
}
