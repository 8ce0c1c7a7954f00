package dev.vacancy.documents.internal;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.bson.BsonArray;
import org.bson.BsonDocument;
import org.bson.BsonValue;

/**
 * What a run has taken out of the arrays of a document, and isn't in them now: that can be put back whatever else became of the arrays since.
 *
 * @param arrays what goes back into each array, by the name of its field
 * @param before the document as it was
 * @param isWhole whether that is all that is away
 */
record ReturningReferences(Map<String, List<BsonValue>> arrays, BsonDocument before, boolean isWhole) {
    /**
     * Finds it.
     *
     * @param referring the names of the fields that hold references themselves, and not in embedded documents
     * @param before the document as it was
     * @param altered what the run has set fields to
     * @param now the document as it is now
     * @return empty where other fields than arrays of references were set
     */
    static Optional<ReturningReferences> of(
            Set<String> referring, BsonDocument before, BsonDocument altered, BsonDocument now) {
        Map<String, List<BsonValue>> arrays = new LinkedHashMap<>();
        for (String name : altered.keySet()) {
            if (!referring.contains(name)
                    || !isPlain(before.get(name))
                    || !isPlain(altered.get(name))
                    || !isPlain(now.get(name))) {
                return Optional.empty();
            }
            arrays.put(name, taken(before.getArray(name), altered.getArray(name), now.getArray(name)));
        }
        return arrays.isEmpty() ? Optional.empty() : Optional.of(new ReturningReferences(arrays, before, true));
    }

    /** What the run took and isn't there. */
    private static List<BsonValue> taken(BsonArray before, BsonArray altered, BsonArray now) {
        List<BsonValue> taken = new ArrayList<>(before);
        altered.forEach(taken::remove);
        Set<Object> there = new HashSet<>();
        now.forEach(value -> there.add(Values.comparable(value)));
        taken.removeIf(value -> there.contains(Values.comparable(value)));
        return taken;
    }

    private static boolean isPlain(BsonValue value) {
        return value != null && value.isArray() && value.asArray().stream().noneMatch(element -> element.isArray());
    }

    /** The same without what refers to nothing. */
    ReturningReferences without(Map<String, Set<Object>> missing) {
        Map<String, List<BsonValue>> left = new LinkedHashMap<>();
        arrays.forEach((name, values) -> left.put(
                name,
                values.stream()
                        .filter(value -> !missing.getOrDefault(name, Set.of()).contains(Values.comparable(value)))
                        .toList()));
        return new ReturningReferences(left, before, left.equals(arrays));
    }

    boolean isNothing() {
        return arrays.values().stream().allMatch(List::isEmpty);
    }

    /** What goes back, as the fields of a document. */
    BsonDocument fields() {
        BsonDocument fields = new BsonDocument(DocumentQuery.ID, before.get(DocumentQuery.ID));
        arrays.forEach((name, values) -> fields.append(name, new BsonArray(values)));
        return fields;
    }

    /** The document with it: in the old order as far as nothing else has come in, and else at the end. */
    BsonDocument putInto(BsonDocument now) {
        BsonDocument restored = now.clone();
        arrays.forEach((name, values) -> {
            List<BsonValue> together = new ArrayList<>(now.getArray(name));
            together.addAll(values);
            List<BsonValue> old = new ArrayList<>(before.getArray(name));
            old.removeIf(value -> !together.contains(value));
            boolean known = old.size() == together.size() && old.containsAll(together);
            restored.put(name, new BsonArray(known ? old : together));
        });
        return restored;
    }
}
