package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.running.AssignedValues;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import org.bson.BsonDocument;
import org.bson.BsonInt32;
import org.bson.BsonInt64;
import org.bson.BsonValue;

/** Works out what each step of a plan makes of each document that it is about. */
final class StepChanges {
    private final DocumentQuery query;
    private final Planned planned;
    private final AssignedValues assigned;

    StepChanges(DocumentQuery query, Planned planned, AssignedValues assigned) {
        this.query = query;
        this.planned = planned;
        this.assigned = assigned;
    }

    /**
     * What becomes of a document.
     *
     * @param change its change
     * @param document all of it, as it is before
     * @param step what it is changed for
     */
    record Changed(Change change, BsonDocument document, Step step) {}

    /** Gives the changes of a step; returns how many documents it is about. */
    long each(Step step, Consumer<Changed> taker) {
        long[] count = {0};
        List<BsonDocument> portion = new ArrayList<>();
        query.each(step.table(), step.condition(), null, document -> {
            count[0]++;
            portion.add(Change.unmarked(document));
            if (portion.size() == DocumentQuery.PORTION) {
                changes(step, portion).forEach(taker);
                portion.clear();
            }
            return true;
        });
        changes(step, portion).forEach(taker);
        return count[0];
    }

    /** A document that several steps change is changed once, when it is met first. */
    private List<Changed> changes(Step step, List<BsonDocument> documents) {
        String collection = step.table().storedName();
        if (step instanceof Step.Delete) {
            return documents.stream()
                    .map(document -> new Changed(Change.deletion(collection, document), document, step))
                    .toList();
        }
        List<Step> updates = planned.steps().stream()
                .filter(other -> other.table().equals(step.table()) && !(other instanceof Step.Delete))
                .toList();
        int place = updates.indexOf(step);
        List<BsonDocument> first = new ArrayList<>(documents);
        updates.subList(0, place).forEach(earlier -> first.removeAll(pickedBy(earlier, first)));
        Map<BsonValue, BsonDocument> changed = new LinkedHashMap<>();
        first.forEach(document -> changed.put(document.get(DocumentQuery.ID), document.clone()));
        assign(step, changed.values());
        Map<BsonValue, Step> reasons = new LinkedHashMap<>();
        for (Step later : updates.subList(place + 1, updates.size())) {
            List<BsonValue> ids = pickedBy(later, first).stream()
                    .map(document -> document.get(DocumentQuery.ID))
                    .toList();
            assign(later, ids.stream().map(changed::get).toList());
            if (step instanceof Step.Touch && !(later instanceof Step.Touch)) {
                ids.forEach(id -> reasons.putIfAbsent(id, later));
            }
        }
        return first.stream()
                .map(document -> {
                    BsonValue id = document.get(DocumentQuery.ID);
                    Change change = Change.update(collection, document, changed.get(id));
                    return new Changed(change, document, reasons.getOrDefault(id, step));
                })
                .toList();
    }

    private List<BsonDocument> pickedBy(Step step, List<BsonDocument> among) {
        return query.kept(step.table(), List.of(step.condition()), among);
    }

    /** Gives fields of documents the values that a step sets them to. */
    private void assign(Step step, Collection<BsonDocument> documents) {
        Map<Column, Object> values = assigned.of(step);
        boolean elements = step instanceof Step.Detach detach && detach.takesElement();
        boolean references = step instanceof Step.Detach || step instanceof Step.Reassign;
        Map<Column, Set<Object>> going = references ? going(step.table(), values.keySet(), documents) : Map.of();
        for (BsonDocument document : documents) {
            values.forEach((column, value) -> {
                if (elements) {
                    takeElements(document, column.storedName(), going.get(column));
                } else if (references) {
                    refer(document, column.storedName(), going.get(column), value);
                } else {
                    set(document, column.storedName(), value);
                }
            });
            assigned.version(step.table()).ifPresent(version -> count(document, version.storedName()));
        }
    }

    /** Of what documents refer to by a field, that which goes, in its comparable form. */
    private Map<Column, Set<Object>> going(Table table, Set<Column> columns, Collection<BsonDocument> documents) {
        Map<Column, Set<Object>> going = new LinkedHashMap<>();
        for (Column column : columns) {
            Map<Object, BsonValue> values = new LinkedHashMap<>();
            documents.forEach(document -> Paths.values(document, column.storedName())
                    .forEach(value -> values.put(Values.comparable(value), value)));
            Set<Object> gone = new HashSet<>();
            for (Link link : assigned.catalog().linksFrom(table)) {
                Optional<Condition> parents = planned.going().apply(link.parent());
                if (link.childColumns().equals(List.of(column)) && parents.isPresent()) {
                    gone.addAll(query.held(
                            link.parent(), link.parentColumns().get(0).storedName(), values.values(), parents.get()));
                }
            }
            going.put(column, gone);
        }
        return going;
    }

    /** Lets a document refer to something else, or to nothing, where it refers to what goes. */
    private static void refer(BsonDocument document, String path, Set<Object> going, Object value) {
        String first = Paths.first(path);
        BsonValue changed = Paths.changed(
                document.get(first),
                Paths.rest(path),
                reference -> !going.contains(Values.comparable(reference))
                        ? Optional.of(reference)
                        : Optional.ofNullable(value).map(Values::bson));
        Paths.put(document, first, changed);
    }

    /** Takes the elements out of arrays in which a document refers to what goes. */
    private static void takeElements(BsonDocument document, String path, Set<Object> going) {
        String first = Paths.first(path);
        BsonValue left = Paths.withoutElements(
                document.get(first), Paths.rest(path), value -> going.contains(Values.comparable(value)));
        Paths.put(document, first, left);
    }

    private static void set(BsonDocument document, String path, Object value) {
        String first = Paths.first(path);
        Paths.put(
                document,
                first,
                Paths.set(document.get(first), Paths.rest(path), value == null ? null : Values.bson(value)));
    }

    /** Counts a version up. */
    static void count(BsonDocument document, String path) {
        BsonValue version = Paths.value(document, path);
        String first = Paths.first(path);
        BsonValue next = version == null || version.isNull() || !version.isNumber()
                ? new BsonInt32(1)
                : version.isInt64()
                        ? new BsonInt64(version.asInt64().getValue() + 1)
                        : new BsonInt32(version.asNumber().intValue() + 1);
        Paths.put(document, first, Paths.set(document.get(first), Paths.rest(path), next));
    }
}
