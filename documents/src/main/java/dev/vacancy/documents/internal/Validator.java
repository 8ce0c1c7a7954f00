package dev.vacancy.documents.internal;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.bson.BsonArray;
import org.bson.BsonBoolean;
import org.bson.BsonDocument;
import org.bson.BsonString;
import org.bson.BsonType;
import org.bson.BsonValue;

/**
 * What a collection says of its documents by itself: a schema that the server holds each against which is written (JSON Schema, draft 4, with the types of BSON).
 *
 * @param schema the schema; empty where there is none
 * @param enforced whether what doesn't fit is refused
 */
record Validator(BsonDocument schema, boolean enforced) {
    private static final String PROPERTIES = "properties";
    private static final Map<String, Set<BsonType>> TYPES = types();

    /** Of BSON, and of JSON where these have other names. */
    private static Map<String, Set<BsonType>> types() {
        Map<String, Set<BsonType>> types = new HashMap<>();
        Stream.of(BsonType.values()).forEach(type -> types.put(SeenField.name(type), Set.of(type)));
        types.put("number", Set.of(BsonType.INT32, BsonType.INT64, BsonType.DOUBLE, BsonType.DECIMAL128));
        types.put("boolean", Set.of(BsonType.BOOLEAN));
        return types;
    }

    /** Takes a field. */
    @FunctionalInterface
    interface Taker {
        void take(String path, BsonType type, boolean severalTimes);
    }

    /** That of a collection, by what the server lists of it. */
    static Validator of(BsonDocument listed) {
        BsonDocument options = listed.getDocument("options", new BsonDocument());
        BsonDocument schema = document(options.get("validator"))
                .flatMap(validator -> document(validator.get("$jsonSchema")))
                .orElseGet(BsonDocument::new);
        boolean warning = options.getString("validationAction", new BsonString("error"))
                .getValue()
                .equals("warn");
        return new Validator(schema, !warning);
    }

    private static Optional<BsonDocument> document(BsonValue value) {
        return Optional.ofNullable(value).filter(BsonValue::isDocument).map(BsonValue::asDocument);
    }

    /** Gives the fields whose types it names. */
    void each(Taker taker) {
        properties("", schema, false, taker);
    }

    private static void properties(String before, BsonDocument schema, boolean severalTimes, Taker taker) {
        document(schema.get(PROPERTIES))
                .ifPresent(properties -> properties.forEach((name, value) -> {
                    if (Paths.isAddressed(name)) {
                        document(value).ifPresent(field -> field(before + name, field, severalTimes, taker));
                    }
                }));
    }

    private static void field(String path, BsonDocument schema, boolean severalTimes, Taker taker) {
        types(schema).forEach(type -> {
            if (type == BsonType.ARRAY) {
                document(schema.get("items")).ifPresent(items -> field(path, items, true, taker));
            } else {
                taker.take(path, type, severalTimes);
            }
        });
        properties(path + ".", schema, severalTimes, taker);
    }

    private static Stream<BsonType> types(BsonDocument schema) {
        BsonValue named = schema.get("bsonType", schema.get("type", new BsonArray()));
        Stream<BsonValue> names = named.isArray() ? named.asArray().stream() : Stream.of(named);
        return names.filter(BsonValue::isString)
                .flatMap(name -> TYPES.getOrDefault(name.asString().getValue(), Set.of()).stream());
    }

    /** Whether it refuses a field that it doesn't name. */
    boolean refuses(String field) {
        boolean closed = schema.get("additionalProperties", BsonBoolean.TRUE).equals(BsonBoolean.FALSE);
        boolean named = document(schema.get(PROPERTIES))
                .filter(properties -> properties.containsKey(field))
                .isPresent();
        return enforced && closed && !named;
    }
}
