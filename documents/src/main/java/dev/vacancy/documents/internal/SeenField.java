package dev.vacancy.documents.internal;

import dev.vacancy.internal.catalog.ColumnType;
import java.sql.Types;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import org.bson.BsonBinary;
import org.bson.BsonBinarySubType;
import org.bson.BsonType;
import org.bson.BsonValue;
import org.bson.UuidRepresentation;

/** What a sample of documents has at one path. */
final class SeenField {
    private final String path;
    private final Optional<UuidRepresentation> olderUuids;
    private final Map<BsonType, Long> types = new EnumMap<>(BsonType.class);
    private final Set<Byte> binaries = new HashSet<>();
    private long documents;
    private boolean severalTimes;

    /**
     * Has seen nothing yet.
     *
     * @param path the path
     * @param olderUuids the order of bytes in which the driver's client writes UUIDs of the older subtype, if it does
     */
    SeenField(String path, Optional<UuidRepresentation> olderUuids) {
        this.path = path;
        this.olderUuids = olderUuids;
    }

    String path() {
        return path;
    }

    /** Takes a value, or the element of an array. */
    void see(BsonValue value, boolean inArray) {
        severalTimes |= inArray;
        if (value.isBinary()) {
            binaries.add(value.asBinary().getType());
        }
        types.merge(value.getBsonType(), 1L, Long::sum);
    }

    /** Takes that a document may have several values there. */
    void expectSeveral() {
        severalTimes = true;
    }

    /** Takes a type that no value was seen of, which the rules or a validator name. */
    void expect(BsonType type) {
        types.putIfAbsent(type, 0L);
    }

    /** Whether no value was seen, or none but null. */
    boolean isUnseen() {
        return types.keySet().stream().allMatch(type -> type == BsonType.NULL);
    }

    /** Notes that one more document has the field. */
    void inDocument() {
        documents++;
    }

    /** In how many documents of the sample it is. */
    long documents() {
        return documents;
    }

    /** Whether a document may have several values there. */
    boolean isSeveralTimes() {
        return severalTimes;
    }

    /** A UUID as it stands here: of the older subtype where no other was seen, and the client says in which order its bytes are. */
    BsonBinary uuid(UUID id) {
        boolean older = binaries.contains(BsonBinarySubType.UUID_LEGACY.getValue())
                && !binaries.contains(BsonBinarySubType.UUID_STANDARD.getValue());
        return new BsonBinary(id, olderUuids.filter(order -> older).orElse(UuidRepresentation.STANDARD));
    }

    /** Whether values of a type are among those that were seen. */
    boolean has(BsonType type) {
        return types.containsKey(type);
    }

    /** Whether numbers of any type are among them. */
    boolean hasNumbers() {
        return types.keySet().stream().anyMatch(SeenField::isNumber);
    }

    /** The types that were seen, by the names that the wire protocol has for them. */
    String typeName() {
        String names = types.keySet().stream()
                .filter(type -> type != BsonType.NULL || types.size() == 1)
                .map(SeenField::name)
                .distinct()
                .sorted()
                .collect(Collectors.joining(" or "));
        String all = names.isEmpty() ? "unseen" : names;
        return severalTimes ? "array of " + all : all;
    }

    /** The name that the wire protocol has for a type. */
    static String name(BsonType type) {
        return switch (type) {
            case OBJECT_ID -> "objectId";
            case STRING -> "string";
            case INT32 -> "int";
            case INT64 -> "long";
            case DOUBLE -> "double";
            case DECIMAL128 -> "decimal";
            case BOOLEAN -> "bool";
            case DATE_TIME -> "date";
            case BINARY -> "binData";
            case DOCUMENT -> "object";
            case ARRAY -> "array";
            case NULL -> "null";
            default -> type.name().toLowerCase(Locale.ROOT);
        };
    }

    /** The type as the catalog has it: that of SQL which means the same, where all values are of one kind. */
    ColumnType type() {
        int jdbcType = severalTimes ? Types.ARRAY : jdbcType();
        return new ColumnType(
                typeName(), jdbcType, 0, jdbcType == Types.TIMESTAMP_WITH_TIMEZONE ? 3 : 9, "", "", 3, "");
    }

    private int jdbcType() {
        List<BsonType> seen =
                types.keySet().stream().filter(type -> type != BsonType.NULL).toList();
        if (seen.isEmpty()) {
            return Types.OTHER;
        }
        if (seen.stream().allMatch(SeenField::isNumber)) {
            boolean whole = seen.stream().allMatch(type -> type == BsonType.INT32 || type == BsonType.INT64);
            return whole ? Types.BIGINT : Types.DOUBLE;
        }
        if (seen.size() > 1) {
            return Types.OTHER;
        }
        return switch (seen.get(0)) {
            case STRING -> Types.VARCHAR;
            case BOOLEAN -> Types.BOOLEAN;
            case DATE_TIME -> Types.TIMESTAMP_WITH_TIMEZONE;
            default -> Types.OTHER;
        };
    }

    static boolean isNumber(BsonType type) {
        return type == BsonType.INT32
                || type == BsonType.INT64
                || type == BsonType.DOUBLE
                || type == BsonType.DECIMAL128;
    }
}
