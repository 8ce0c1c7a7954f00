package dev.vacancy.documents.internal;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Predicate;
import org.bson.BsonArray;
import org.bson.BsonDocument;
import org.bson.BsonValue;

/** Fields of documents by their paths: names with points between them, through embedded documents and the elements of arrays. */
final class Paths {
    private Paths() {}

    /** Whether a field can be asked for: a name with a point in it would be a path, and one that begins with a dollar an operator. */
    static boolean isAddressed(String name) {
        return !name.isEmpty() && name.indexOf('.') < 0 && !name.startsWith("$");
    }

    /** The name of the field of the document itself that a path begins with. */
    static String first(String path) {
        int point = path.indexOf('.');
        return point < 0 ? path : path.substring(0, point);
    }

    /**
     * What stands at a path: one value, or each element of arrays on the way and at its end; nothing that is missing or null, nor what an array
     * within an array holds, into which no server looks either.
     */
    static List<BsonValue> values(BsonDocument document, String path) {
        List<BsonValue> values = new ArrayList<>();
        collect(document, names(path), values);
        return values;
    }

    private static List<String> names(String path) {
        return Arrays.asList(path.split("\\.", -1));
    }

    private static void collect(BsonValue at, List<String> path, List<BsonValue> values) {
        if (at == null || at.isNull()) {
            return;
        }
        if (at.isArray()) {
            at.asArray().stream()
                    .filter(element -> !element.isArray())
                    .forEach(element -> collect(element, path, values));
        } else if (path.isEmpty()) {
            values.add(at);
        } else if (at.isDocument()) {
            collect(at.asDocument().get(path.get(0)), path.subList(1, path.size()), values);
        }
    }

    /** The value at a path; an array where one is on the way, and null where there is none. */
    static BsonValue value(BsonDocument document, String path) {
        BsonValue at = document;
        for (String name : names(path)) {
            if (at == null || !at.isDocument()) {
                return at != null && at.isArray() ? new BsonArray(values(document, path)) : null;
            }
            at = at.asDocument().get(name);
        }
        return at;
    }

    /**
     * Changes what stands at a path.
     *
     * @param whole the value of the first field on the path, or null
     * @param path the rest of the path
     * @param change makes something of each value; what it gives nothing for leaves its document or array
     * @return the value of the first field, or null where nothing is left of it
     */
    static BsonValue changed(BsonValue whole, List<String> path, Function<BsonValue, Optional<BsonValue>> change) {
        if (whole == null) {
            return null;
        }
        if (whole.isArray()) {
            BsonArray elements = new BsonArray();
            whole.asArray().forEach(element -> {
                BsonValue left = element.isArray() ? element : changed(element, path, change);
                if (left != null) {
                    elements.add(left);
                }
            });
            return elements;
        }
        if (path.isEmpty()) {
            return change.apply(whole).orElse(null);
        }
        if (!whole.isDocument() || !whole.asDocument().containsKey(path.get(0))) {
            return whole;
        }
        BsonDocument copy = whole.asDocument().clone();
        put(copy, path.get(0), changed(copy.get(path.get(0)), path.subList(1, path.size()), change));
        return copy;
    }

    /**
     * Takes away the elements of the innermost arrays on a path in which a value stands at its end; where there is no array on the way, the value.
     *
     * @param whole the value of the first field on the path, or null
     * @param path the rest of the path
     * @param going tells whether a value is such a one
     * @return what is left of the first field, or null where nothing is
     */
    static BsonValue withoutElements(BsonValue whole, List<String> path, Predicate<BsonValue> going) {
        if (whole == null) {
            return null;
        }
        if (whole.isArray()) {
            BsonArray left = new BsonArray();
            whole.asArray().stream()
                    .filter(element -> !standsIn(element, path, going))
                    .forEach(element ->
                            left.add(element.isDocument() ? withoutElements(element, path, going) : element));
            return left;
        }
        if (path.isEmpty()) {
            return going.test(whole) ? null : whole;
        }
        if (!whole.isDocument() || !whole.asDocument().containsKey(path.get(0))) {
            return whole;
        }
        BsonDocument copy = whole.asDocument().clone();
        put(copy, path.get(0), withoutElements(copy.get(path.get(0)), path.subList(1, path.size()), going));
        return copy;
    }

    /** Whether a value stands at the end of a path on which there is no array. */
    private static boolean standsIn(BsonValue element, List<String> path, Predicate<BsonValue> going) {
        BsonValue at = element;
        for (String name : path) {
            at = at != null && at.isDocument() ? at.asDocument().get(name) : null;
        }
        return at != null && !at.isArray() && going.test(at);
    }

    /** Sets a field, or takes it away where its value is null; embedded documents on the way are made. */
    static BsonValue set(BsonValue whole, List<String> path, BsonValue value) {
        if (path.isEmpty()) {
            return value;
        }
        BsonDocument copy =
                whole != null && whole.isDocument() ? whole.asDocument().clone() : new BsonDocument();
        put(copy, path.get(0), set(copy.get(path.get(0)), path.subList(1, path.size()), value));
        return copy;
    }

    /** Puts a value where the field is, or takes the field away. */
    static void put(BsonDocument document, String name, BsonValue value) {
        if (value == null) {
            document.remove(name);
        } else {
            document.put(name, value);
        }
    }

    /** Whether there is an array on a path or at its end. */
    static boolean passesArray(BsonDocument document, String path) {
        BsonValue at = document;
        for (String name : names(path)) {
            at = at != null && at.isDocument() ? at.asDocument().get(name) : null;
            if (at != null && at.isArray()) {
                return true;
            }
        }
        return false;
    }

    /** Takes away what stands at a path. */
    static void remove(BsonDocument document, String path) {
        String first = first(path);
        List<String> rest = rest(path);
        put(document, first, rest.isEmpty() ? null : changed(document.get(first), rest, value -> Optional.empty()));
    }

    /** The names behind the first one. */
    static List<String> rest(String path) {
        List<String> names = names(path);
        return names.subList(1, names.size());
    }
}
