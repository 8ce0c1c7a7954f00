package dev.vacancy.documents.internal;

import com.mongodb.client.model.Sorts;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.KeyDigest;
import dev.vacancy.internal.store.Purpose;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.internal.store.StoreTraits;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.OptionalLong;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.bson.BsonDocument;
import org.bson.BsonValue;

/**
 * Documents as records: each field is a column by its path, and the identity is the document's id. Nothing is locked; whoever changes documents
 * does so only as far as they are as they were read.
 *
 * @param query finds documents
 * @param purpose what they are read for
 * @param traits what the server does by itself
 */
record DocumentRecords(DocumentQuery query, Purpose purpose, StoreTraits traits) implements RecordStore {
    /** What every server does by itself, which is little, and what its transactions hold. */
    static StoreTraits traits(long mostPerTransaction) {
        return new StoreTraits(false, false, true, 0, OptionalInt.empty(), false, false, false, mostPerTransaction);
    }

    @Override
    public void beginWriting(Table table) {
        // There are no locks.
    }

    @Override
    public void lockTable(Table table) {
        // There are no locks.
    }

    @Override
    public List<List<Object>> identities(Table table, Condition among, int most, boolean skippingHeld) {
        List<List<Object>> identities = new ArrayList<>();
        eachInOrder(table, among, Set.of(), most, document -> identities.add(List.of(id(document))));
        return identities;
    }

    private static Object id(BsonDocument document) {
        return Values.exact(document.get(DocumentQuery.ID));
    }

    @Override
    public void eachIdentity(Table table, Condition among, Consumer<List<Object>> each) {
        eachInOrder(table, among, Set.of(), Integer.MAX_VALUE, document -> each.accept(List.of(id(document))));
    }

    /** By the server where it finds them by itself; else they are put in order here. */
    private void eachInOrder(
            Table table, Condition among, Collection<String> paths, int most, Consumer<BsonDocument> each) {
        Optional<BsonDocument> filter =
                Portions.of(among, DocumentQuery.PORTION).size() > 1 ? Optional.empty() : Filters.of(among);
        if (filter.isPresent()) {
            query.find(table, filter.get(), paths)
                    .sort(Sorts.ascending(DocumentQuery.ID))
                    .limit(most == Integer.MAX_VALUE ? 0 : most)
                    .batchSize(DocumentQuery.PORTION)
                    .forEach(each);
            return;
        }
        Map<Key, BsonDocument> byKey = new TreeMap<>();
        query.each(table, among, paths, document -> {
            byKey.put(new RecordKey(table.identity(), List.of(id(document))), document);
            return true;
        });
        byKey.values().stream().limit(most).forEach(each);
    }

    @Override
    public List<List<Object>> records(Table table, List<Column> columns, Condition among) {
        List<List<Object>> rows = new ArrayList<>();
        eachRecord(table, columns, among, rows::add);
        return rows;
    }

    @Override
    public void eachRecord(Table table, List<Column> columns, Condition among, Consumer<List<Object>> each) {
        query.each(table, among, paths(columns), document -> {
            each.accept(row(document, columns));
            return true;
        });
    }

    private static List<String> paths(Collection<Column> columns) {
        return columns.stream().map(Column::storedName).toList();
    }

    private static List<Object> row(BsonDocument document, List<Column> columns) {
        List<Object> row = new ArrayList<>(columns.size());
        columns.forEach(column -> row.add(Values.exact(Paths.value(document, column.storedName()))));
        return row;
    }

    @Override
    public void eachWhole(Table table, List<Column> exactly, Condition among, Consumer<Whole> each) {
        query.each(table, among, null, document -> {
            each.accept(new Whole(row(document, exactly), Values.shown(Change.unmarked(document))));
            return true;
        });
    }

    @Override
    public void eachWholeInOrder(Table table, Condition among, Consumer<Whole> each) {
        eachInOrder(
                table,
                among,
                null,
                Integer.MAX_VALUE,
                document -> each.accept(new Whole(List.of(id(document)), Values.shown(Change.unmarked(document)))));
    }

    /** Generation by generation; each document once, however often it is met. */
    @Override
    public List<List<Object>> descendants(
            Link link, List<Column> columns, Condition first, Optional<Condition> further, OptionalInt rounds) {
        List<List<Object>> all = new ArrayList<>();
        Set<Object> seen = new HashSet<>();
        Condition next = first;
        while (true) {
            List<List<Object>> references = new ArrayList<>();
            query.each(link.child(), next, paths(columns), document -> {
                if (seen.add(Values.comparable(document.get(DocumentQuery.ID)))) {
                    all.add(row(document, columns));
                    List<Object> reference = row(document, link.parentColumns());
                    if (!reference.contains(null)) {
                        references.add(reference);
                    }
                }
                return true;
            });
            if (references.isEmpty()) {
                return all;
            }
            Condition children = new Condition.Referring(link, references);
            next = further.<Condition>map(both -> new Condition.AllOf(List.of(children, both)))
                    .orElse(children);
        }
    }

    @Override
    public List<List<Object>> parents(Link link, Collection<List<Object>> children) {
        Condition among = new Condition.Among(link.child().identity(), List.copyOf(children));
        Map<List<Object>, List<Object>> references = new LinkedHashMap<>();
        query.each(link.child(), among, paths(link.childColumns()), document -> {
            references.put(List.of(id(document)), row(document, link.childColumns()));
            return true;
        });
        Map<Object, List<List<Object>>> byReference = parentsBy(link, references.values());
        List<List<Object>> pairs = new ArrayList<>();
        references.forEach((child, reference) -> meanings(reference)
                .flatMap(meaning -> byReference.getOrDefault(meaning, List.of()).stream())
                .forEach(parent -> {
                    List<Object> pair = new ArrayList<>(child);
                    pair.addAll(parent);
                    pairs.add(pair);
                }));
        return pairs;
    }

    /** What a reference may mean: one key of a parent, or several where it is a list. */
    private static Stream<Object> meanings(List<Object> reference) {
        if (reference.contains(null)) {
            return Stream.of();
        }
        return reference.size() == 1
                ? Filters.each(reference.get(0)).map(Values::comparable)
                : Stream.of(reference.stream()
                        .map(value -> Values.comparable(Values.bson(value)))
                        .toList());
    }

    private Map<Object, List<List<Object>>> parentsBy(Link link, Collection<List<Object>> references) {
        Map<Object, List<List<Object>>> byReference = new HashMap<>();
        List<List<Object>> known = references.stream()
                .filter(reference -> !reference.contains(null))
                .toList();
        if (known.isEmpty()) {
            return byReference;
        }
        Condition among = link.parentColumns().size() == 1
                ? new Condition.OneOf(
                        link.parentColumns().get(0),
                        known.stream()
                                .flatMap(reference -> Filters.each(reference.get(0)))
                                .<Object>map(value -> value)
                                .toList())
                : new Condition.Among(link.parentColumns(), known);
        query.each(link.parent(), among, paths(link.parentColumns()), document -> {
            meanings(row(document, link.parentColumns()))
                    .forEach(meaning -> byReference
                            .computeIfAbsent(meaning, missing -> new ArrayList<>())
                            .add(List.of(id(document))));
            return true;
        });
        return byReference;
    }

    @Override
    public List<Counted> countByParent(Link link, Condition children) {
        Map<Object, Long> byMeaning = new HashMap<>();
        List<List<Object>> references = new ArrayList<>();
        query.each(link.child(), children, paths(link.childColumns()), document -> {
            List<Object> reference = row(document, link.childColumns());
            references.add(reference);
            meanings(reference).distinct().forEach(meaning -> byMeaning.merge(meaning, 1L, Long::sum));
            return true;
        });
        Map<List<Object>, Long> counts = new LinkedHashMap<>();
        parentsBy(link, references.stream().distinct().toList())
                .forEach((meaning, parents) -> parents.forEach(
                        parent -> counts.merge(parent, byMeaning.getOrDefault(meaning, 0L), Long::sum)));
        return counts.entrySet().stream()
                .filter(entry -> entry.getValue() > 0)
                .map(entry -> new Counted(entry.getKey(), entry.getValue()))
                .toList();
    }

    @Override
    public List<List<Map<Column, Object>>> first(List<First> wanted) {
        return wanted.stream().map(this::first).toList();
    }

    private List<Map<Column, Object>> first(First wanted) {
        List<Map<Column, Object>> records = new ArrayList<>();
        Consumer<BsonDocument> take = document -> records.add(shown(document, wanted));
        if (wanted.inOrder()) {
            eachInOrder(wanted.table(), wanted.among(), paths(wanted.columns()), wanted.most(), take);
            return records;
        }
        query.each(wanted.table(), wanted.among(), paths(wanted.columns()), document -> {
            take.accept(document);
            return records.size() < wanted.most();
        });
        return records;
    }

    private static Map<Column, Object> shown(BsonDocument document, First wanted) {
        Map<Column, Object> values = new LinkedHashMap<>();
        for (Column column : wanted.columns()) {
            BsonValue value = Paths.value(document, column.storedName());
            boolean exact = wanted.table().identity().contains(column);
            values.put(column, exact ? Values.exact(value) : Values.shown(value));
        }
        return values;
    }

    /** What tells documents from others of the same number is a digest of their ids. */
    @Override
    public List<Tally> tallies(List<Picked> picked) {
        List<Tally> tallies = new ArrayList<>();
        for (Picked some : picked) {
            KeyDigest digest = new KeyDigest();
            query.each(some.table(), some.among(), Set.of(), document -> {
                digest.add(some.table().identity(), List.of(id(document)));
                return true;
            });
            tallies.add(digest.tally());
        }
        return tallies;
    }

    @Override
    public OptionalLong lockedCount(Table table, Condition among) {
        return OptionalLong.empty();
    }

    @Override
    public Set<Table> keepingRecords(List<Table> tables) {
        return Set.of();
    }

    @Override
    public long count(Table table, Condition among) {
        return query.count(table, among);
    }

    @Override
    public Unrecordable unrecordable(Rules.Recording recording, Table table, Condition among) {
        return new Unrecordable(0, 0);
    }

    @Override
    public long countHeld(Rules.Recording recording, UUID hold, Table table, Condition among) {
        DocumentTrail trail = new DocumentTrail(query.database(), recording.trail());
        List<String> keys = new ArrayList<>();
        long[] held = {0};
        query.each(table, among, Set.of(), document -> {
            keys.add(KeyText.of(document.get(DocumentQuery.ID)));
            if (keys.size() == DocumentQuery.PORTION) {
                held[0] += trail.countHeld(hold, table.name(), keys);
                keys.clear();
            }
            return true;
        });
        return held[0] + (keys.isEmpty() ? 0 : trail.countHeld(hold, table.name(), keys));
    }

    @Override
    public Optional<EmptiedAtOnce> emptiedAtOnce(Table table) {
        return Optional.empty();
    }

    @Override
    public void lockToEmpty(Table table) {
        // There are no locks.
    }

    /** By the order of their bytes, unless a collection says otherwise. */
    @Override
    public boolean foldsText(Column column) {
        return false;
    }
}
