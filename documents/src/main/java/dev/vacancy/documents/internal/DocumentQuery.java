package dev.vacancy.documents.internal;

import com.mongodb.client.FindIterable;
import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoCursor;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.bson.BsonDocument;
import org.bson.BsonInt32;
import org.bson.BsonValue;

/**
 * Finds the documents that a condition picks, also where it asks about other documents. Of those it goes down from parents to children, some
 * thousand at a time; whatever else it asks is looked at for the documents that were found so far, again some thousand at a time. So no more is
 * held than that, and the number of statements goes by collections and portions, not by documents.
 *
 * @param database the database
 */
record DocumentQuery(MongoDatabase database) {
    /** How many documents, or values of a filter, are dealt with at a time. */
    static final int PORTION = 1_000;

    static final String ID = "_id";

    /** The documents of a table. */
    MongoCollection<BsonDocument> collection(Table table) {
        return database.getCollection(table.storedName(), BsonDocument.class);
    }

    /** Counts what a condition picks. */
    long count(Table table, Condition condition) {
        Optional<BsonDocument> filter = portions(condition).size() > 1 ? Optional.empty() : Filters.of(condition);
        if (filter.isPresent()) {
            return collection(table).countDocuments(filter.get());
        }
        long[] count = {0};
        each(table, condition, Set.of(), document -> {
            count[0]++;
            return true;
        });
        return count[0];
    }

    /**
     * Finds documents.
     *
     * @param table their collection
     * @param condition picks them
     * @param paths what is read of each beside its id; null for all
     * @param taker takes each document, once; false to end
     * @return false if it was ended
     */
    boolean each(Table table, Condition condition, Collection<String> paths, Predicate<BsonDocument> taker) {
        if (Filters.of(condition).isEmpty() && condition instanceof Condition.AnyOf any) {
            return eachOfAny(table, any.parts(), List.of(), paths, taker);
        }
        Parts parts = Parts.of(condition);
        Optional<Condition.AnyOf> alternatives = parts.alternatives();
        if (alternatives.isPresent()) {
            return eachOfAny(table, alternatives.get().parts(), parts.without(alternatives.get()), paths, taker);
        }
        Set<String> read = paths == null ? null : new LinkedHashSet<>(paths);
        if (read != null) {
            parts.further().forEach(part -> read.addAll(pathsAsked(part)));
        }
        boolean several = parts.parents().isPresent() || portions(parts.own()).size() > 1;
        Optional<Set<Object>> seen = several && parts.mayRepeat() ? Optional.of(new HashSet<>()) : Optional.empty();
        return eachPortion(
                parts,
                portion -> eachBatch(
                        table,
                        portion,
                        read,
                        seen,
                        found -> kept(table, parts.further(), found).stream().allMatch(taker)));
    }

    /** Each document goes to the first of the alternatives that picks it. */
    private boolean eachOfAny(
            Table table,
            List<Condition> alternatives,
            List<Condition> further,
            Collection<String> paths,
            Predicate<BsonDocument> taker) {
        for (int i = 0; i < alternatives.size(); i++) {
            List<Condition> parts = new ArrayList<>(List.of(alternatives.get(i)));
            parts.addAll(further);
            alternatives.subList(0, i).forEach(earlier -> parts.add(new Condition.Except(earlier)));
            if (!each(table, new Condition.AllOf(parts), paths, taker)) {
                return false;
            }
        }
        return true;
    }

    /** Gives the filters of which each document that is looked for meets one. */
    private boolean eachPortion(Parts parts, Predicate<BsonDocument> taker) {
        if (parts.parents().isEmpty()) {
            for (Condition portion : portions(parts.own())) {
                if (!taker.test(Filters.of(portion).orElseThrow())) {
                    return false;
                }
            }
            return true;
        }
        Link link = parts.parents().get().link();
        BsonDocument own = Filters.of(parts.own()).orElseThrow();
        String child = only(link.childColumns());
        return eachReferred(
                link,
                parts.parents().get().condition(),
                values -> taker.test(Filters.all(List.of(own, Filters.in(child, values)))));
    }

    /** Gives what children on a link may hold of the parents that a condition picks, portion by portion, each value once. */
    private boolean eachReferred(Link link, Condition parents, Predicate<List<BsonValue>> taker) {
        String path = only(link.parentColumns());
        boolean unique = path.equals(ID);
        Set<Object> seen = new HashSet<>();
        List<BsonValue> portion = new ArrayList<>();
        boolean all = each(link.parent(), parents, Set.of(path), parent -> {
            for (BsonValue value : Paths.values(parent, path)) {
                if (unique || seen.add(Values.comparable(value))) {
                    portion.add(value);
                }
            }
            if (portion.size() < PORTION) {
                return true;
            }
            boolean more = taker.test(List.copyOf(portion));
            portion.clear();
            return more;
        });
        return all && (portion.isEmpty() || taker.test(portion));
    }

    private static String only(List<Column> columns) {
        if (columns.size() > 1) {
            throw new UnsupportedOperationException("A link of several fields goes by its values");
        }
        return columns.get(0).storedName();
    }

    private boolean eachBatch(
            Table table,
            BsonDocument filter,
            Collection<String> paths,
            Optional<Set<Object>> seen,
            Predicate<List<BsonDocument>> taker) {
        List<BsonDocument> batch = new ArrayList<>();
        try (MongoCursor<BsonDocument> cursor =
                find(table, filter, paths).batchSize(PORTION).cursor()) {
            while (cursor.hasNext()) {
                BsonDocument document = cursor.next();
                if (seen.isEmpty() || seen.get().add(Values.comparable(document.get(ID)))) {
                    batch.add(document);
                }
                if (batch.size() == PORTION) {
                    if (!taker.test(batch)) {
                        return false;
                    }
                    batch = new ArrayList<>();
                }
            }
        }
        return batch.isEmpty() || taker.test(batch);
    }

    /** What a filter picks. */
    FindIterable<BsonDocument> find(Table table, BsonDocument filter, Collection<String> paths) {
        FindIterable<BsonDocument> found = collection(table).find(filter);
        return paths == null ? found : found.projection(projection(paths));
    }

    /** A field and one that is embedded in it can't both be asked for, so that the whole is. */
    private static BsonDocument projection(Collection<String> paths) {
        BsonDocument projection = new BsonDocument(ID, new BsonInt32(1));
        paths.forEach(path -> projection.append(Paths.first(path), new BsonInt32(1)));
        return projection;
    }

    /** Those of some documents that meet further conditions. */
    List<BsonDocument> kept(Table table, List<Condition> further, List<BsonDocument> found) {
        List<BsonDocument> kept = found;
        for (Condition condition : further) {
            if (!kept.isEmpty()) {
                Set<Object> picked = picked(table, condition, kept);
                kept = kept.stream()
                        .filter(document -> picked.contains(Values.comparable(document.get(ID))))
                        .toList();
            }
        }
        return kept;
    }

    /** The ids of those of some documents that a condition picks. */
    private Set<Object> picked(Table table, Condition condition, List<BsonDocument> among) {
        Optional<BsonDocument> filter = Filters.of(condition);
        if (filter.isPresent()) {
            Set<Object> ids = new HashSet<>();
            List<BsonValue> all =
                    among.stream().map(document -> document.get(ID)).toList();
            find(table, Filters.all(List.of(Filters.in(ID, all), filter.get())), Set.of())
                    .forEach(document -> ids.add(Values.comparable(document.get(ID))));
            return ids;
        }
        if (condition instanceof Condition.AllOf all) {
            return ids(kept(table, all.parts(), among));
        }
        if (condition instanceof Condition.AnyOf any) {
            Set<Object> ids = new HashSet<>();
            any.parts().forEach(part -> ids.addAll(picked(table, part, among)));
            return ids;
        }
        if (condition instanceof Condition.Except || condition instanceof Condition.Not) {
            Condition part =
                    condition instanceof Condition.Except except ? except.part() : ((Condition.Not) condition).part();
            Set<Object> ids = ids(among);
            ids.removeAll(picked(table, part, among));
            return ids;
        }
        return pickedByOthers(condition, among);
    }

    private Set<Object> pickedByOthers(Condition condition, List<BsonDocument> among) {
        if (condition instanceof Condition.OfChildren children) {
            Link link = children.link();
            return referring(
                    among, only(link.parentColumns()), link.child(), only(link.childColumns()), children.condition());
        }
        ToParents parents = ToParents.of(condition).orElseThrow();
        return referring(
                among,
                only(parents.link().childColumns()),
                parents.link().parent(),
                only(parents.link().parentColumns()),
                parents.condition());
    }

    /** The ids of those of some documents that have a value in common with others that meet a condition. */
    private Set<Object> referring(
            List<BsonDocument> among, String path, Table other, String otherPath, Condition condition) {
        Map<Object, BsonValue> values = new LinkedHashMap<>();
        among.forEach(
                document -> Paths.values(document, path).forEach(value -> values.put(Values.comparable(value), value)));
        Set<Object> common = held(other, otherPath, values.values(), condition);
        Set<Object> ids = new HashSet<>();
        for (BsonDocument document : among) {
            if (Paths.values(document, path).stream().map(Values::comparable).anyMatch(common::contains)) {
                ids.add(Values.comparable(document.get(ID)));
            }
        }
        return ids;
    }

    /**
     * Tells which of some values documents hold that meet a condition.
     *
     * @return the values in their comparable form
     */
    Set<Object> held(Table table, String path, Collection<BsonValue> values, Condition condition) {
        Set<Object> held = new HashSet<>();
        if (!values.isEmpty()) {
            Column column = table.column(path);
            List<Object> given = values.stream().<Object>map(value -> value).toList();
            Condition both = new Condition.AllOf(List.of(new Condition.OneOf(column, given), condition));
            each(table, both, Set.of(path), document -> {
                Paths.values(document, path).forEach(value -> held.add(Values.comparable(value)));
                return true;
            });
        }
        return held;
    }

    private static Set<Object> ids(List<BsonDocument> documents) {
        Set<Object> ids = new HashSet<>();
        documents.forEach(document -> ids.add(Values.comparable(document.get(ID))));
        return ids;
    }

    /** The paths of these documents that are looked at to tell whether a condition picks them. */
    private static Set<String> pathsAsked(Condition condition) {
        Set<String> paths = new LinkedHashSet<>();
        if (condition instanceof Condition.OfChildren children) {
            children.link().parentColumns().forEach(column -> paths.add(column.storedName()));
        }
        ToParents.of(condition)
                .ifPresent(parents -> parents.link().childColumns().forEach(column -> paths.add(column.storedName())));
        partsOf(condition).forEach(part -> paths.addAll(pathsAsked(part)));
        return paths;
    }

    private static Stream<Condition> partsOf(Condition condition) {
        if (condition instanceof Condition.AllOf all) {
            return all.parts().stream();
        }
        if (condition instanceof Condition.AnyOf any) {
            return any.parts().stream();
        }
        if (condition instanceof Condition.Except except) {
            return Stream.of(except.part());
        }
        return condition instanceof Condition.Not not ? Stream.of(not.part()) : Stream.of();
    }

    /** A condition that lists more values than a message holds, in pieces. */
    private static List<Condition> portions(Condition condition) {
        return Portions.of(condition, PORTION * 10);
    }
}
