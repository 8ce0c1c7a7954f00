package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.documents.internal.Restoring.Returning;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.restoring.Undoing;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.RecordHistory;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.rule.Rule;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.bson.BsonArray;
import org.bson.BsonDocument;
import org.bson.BsonValue;

/** Finds what stands in the way of documents that come back, and what would settle each. */
final class Obstacles {
    private final DocumentQuery query;
    private final DocumentTrail trail;
    private final Undoing undoing;
    private final Rules rules;
    private final Set<Long> runs;
    private final List<Conflict> conflicts = new ArrayList<>();
    private final Map<Link, Set<Object>> coming = new HashMap<>();
    private Optional<ChosenDocument> chosen = Optional.empty();

    Obstacles(DocumentQuery query, DocumentTrail trail, Undoing undoing, Set<Long> runs) {
        this.query = query;
        this.trail = trail;
        this.undoing = undoing;
        this.rules = undoing.rules();
        this.runs = runs;
    }

    /** Only these come back. */
    void only(ChosenDocument some) {
        chosen = Optional.of(some);
    }

    List<Conflict> conflicts() {
        return List.copyOf(conflicts);
    }

    void conflict(String table, String key, String reason, String remedy) {
        Conflict conflict = new Conflict(table, key, reason, remedy);
        if (conflicts.size() < RestorePlan.MOST_CONFLICTS && !conflicts.contains(conflict)) {
            conflicts.add(conflict);
        }
    }

    /** What belongs to a document elsewhere, and can't be brought back. */
    void followers(Table table, List<Returning> returning) {
        for (Returning one : returning) {
            undoing.handlers()
                    .hindrance(
                            rules,
                            table,
                            Optional.ofNullable(one.entry().key()),
                            rule -> DocumentValues.shown(one.document(), rule.columns()))
                    .ifPresent(why -> conflict(
                            table.name(),
                            one.entry().keyText(),
                            why,
                            "Bring that back, or take the follow-up out of the rules."));
        }
    }

    /** Whatever has the same id now, or the same value where that is to be one document's only. */
    void taken(Table table, List<Returning> returning) {
        List<BsonValue> ids = returning.stream().map(Returning::id).toList();
        Set<Object> there = new HashSet<>();
        query.find(table, Filters.in(DocumentQuery.ID, ids), Set.of())
                .forEach(document -> there.add(Values.comparable(document.get(DocumentQuery.ID))));
        for (Returning one : returning) {
            if (there.contains(Values.comparable(one.id()))) {
                String key = one.entry().keyText();
                conflict(
                        table.name(),
                        key,
                        "there is a record with this key again",
                        "Delete or change " + table + " " + key + " first.");
            }
        }
        table.uniqueKeys().stream()
                .filter(key -> !key.equals(table.identity()))
                .forEach(key -> taken(table, key, returning, new Condition.AllOf(List.of())));
        uniqueWhileActive(
                table,
                returning.stream()
                        .filter(one -> isActive(table, one.document()))
                        .toList());
    }

    /** What is unique among the active documents only. */
    void uniqueWhileActive(Table table, List<Returning> returning) {
        Optional.ofNullable(rules.softness().tables().get(table)).ifPresent(soft -> {
            Condition active = rules.active(table)
                    .map(criteria -> Resolution.of(criteria, table, rules.catalog(), undoing.clock()))
                    .orElseGet(() -> new Condition.AllOf(List.of()));
            soft.unique()
                    .forEach(names ->
                            taken(table, names.stream().map(table::column).toList(), returning, active));
        });
    }

    private void taken(Table table, List<Column> key, List<Returning> returning, Condition among) {
        BsonArray alternatives = new BsonArray();
        for (Returning one : returning) {
            BsonDocument same = new BsonDocument();
            for (Column column : key) {
                BsonValue value = Paths.value(one.document(), column.storedName());
                if (value != null && !value.isNull() && !value.isArray()) {
                    same.append(column.storedName(), new BsonDocument("$eq", value));
                }
            }
            if (same.size() == key.size()) {
                alternatives.add(same);
            }
        }
        if (alternatives.isEmpty()) {
            return;
        }
        List<String> paths = key.stream().map(Column::storedName).toList();
        List<BsonDocument> found = new ArrayList<>();
        query.find(table, new BsonDocument("$or", alternatives), paths).forEach(found::add);
        String names = key.stream().map(Column::name).collect(Collectors.joining(" and "));
        for (BsonDocument other : query.kept(table, List.of(among), found)) {
            String record = table + " " + KeyText.of(other.get(DocumentQuery.ID));
            returning.stream()
                    .filter(one -> values(one.document(), key)
                            .toList()
                            .equals(values(other, key).toList()))
                    .forEach(one -> conflict(
                            table.name(),
                            one.entry().keyText(),
                            "its " + names + (key.size() == 1 ? " is" : " are") + " taken by " + record,
                            "Delete or change " + record + " first."));
        }
    }

    private boolean isActive(Table table, BsonDocument document) {
        RowMarker marker = rules.softness().markers().get(table);
        return marker == null
                || marker.isActive(
                        table,
                        Values.shown(Paths.value(
                                document, table.column(marker.column()).storedName())));
    }

    /** What documents hold in fields, in a comparable form. */
    static Stream<Object> values(BsonDocument document, List<Column> columns) {
        return columns.stream()
                .flatMap(column -> Paths.values(document, column.storedName()).stream())
                .map(Values::comparable);
    }

    /** Parents that neither are there nor come back as well, and those that were soft-deleted since. */
    void parents(Table table, List<Returning> returning, List<Link> links) {
        for (Link link : links) {
            Map<Object, BsonValue> referred = new LinkedHashMap<>();
            String path = link.childColumns().get(0).storedName();
            returning.forEach(one -> Paths.values(one.document(), path)
                    .forEach(value -> referred.putIfAbsent(Values.comparable(value), value)));
            if (referred.isEmpty()) {
                continue;
            }
            boolean kept = rules.of(link).stream().allMatch(rule -> rule.rule() == Rule.KEEP);
            if (!kept) {
                missing(table, link, referred, returning);
            }
            List<Returning> active = returning.stream()
                    .filter(one -> isActive(table, one.document()))
                    .toList();
            if (rules.softness().markers().containsKey(link.parent()) && !active.isEmpty()) {
                ended(table, link, referred, active);
            }
        }
    }

    private void missing(Table table, Link link, Map<Object, BsonValue> referred, List<Returning> returning) {
        each(link, missing(link, referred), returning, (one, value) -> {
            String parent = link.parent() + " " + KeyText.of(value);
            conflict(
                    table.name(),
                    one.entry().keyText(),
                    "its " + parent + " (" + link.where() + ") isn't there",
                    "Restore " + parent + " first.");
        });
    }

    /** What a document refers to that neither is there nor comes back as well, in a comparable form. */
    Set<Object> missing(Link link, BsonDocument document) {
        Map<Object, BsonValue> referred = new LinkedHashMap<>();
        Paths.values(document, link.childColumns().get(0).storedName())
                .forEach(value -> referred.putIfAbsent(Values.comparable(value), value));
        return missing(link, referred);
    }

    private Set<Object> missing(Link link, Map<Object, BsonValue> referred) {
        Set<Object> open = new HashSet<>(referred.keySet());
        open.removeAll(query.held(
                link.parent(),
                link.parentColumns().get(0).storedName(),
                referred.values(),
                new Condition.AllOf(List.of())));
        if (!open.isEmpty()) {
            open.removeAll(coming.computeIfAbsent(link, this::coming));
        }
        return open;
    }

    @FunctionalInterface
    private interface Reference {
        void of(Returning child, BsonValue value);
    }

    private static void each(Link link, Set<Object> values, List<Returning> returning, Reference each) {
        for (Returning one : values.isEmpty() ? List.<Returning>of() : returning) {
            for (BsonValue value :
                    Paths.values(one.document(), link.childColumns().get(0).storedName())) {
                if (values.contains(Values.comparable(value))) {
                    each.of(one, value);
                }
            }
        }
    }

    /** What parents that come back are referred to by. */
    private Set<Object> coming(Link link) {
        Set<Object> values = new HashSet<>();
        for (Long run : runs) {
            trail.each(
                    run,
                    portion -> portion.stream()
                            .filter(entry -> entry.table().equals(link.parent().name()) && isComing(entry))
                            .forEach(entry -> values(ContentText.read(entry.content()), link.parentColumns())
                                    .forEach(values::add)));
        }
        return values;
    }

    private boolean isComing(StoredEntry entry) {
        return entry.action().removes()
                && entry.content() != null
                && !undoing.returned().test(entry.reference())
                && chosen.map(only -> only.contains(entry)).orElse(true);
    }

    /** What was below a soft-deleted parent before comes back as it was. */
    private void ended(Table table, Link link, Map<Object, BsonValue> referred, List<Returning> returning) {
        Table parent = link.parent();
        Column column = link.parentColumns().get(0);
        Condition active = Resolution.of(rules.active(parent).orElseThrow(), parent, rules.catalog(), undoing.clock());
        Condition inactive = new Condition.AllOf(List.of(
                new Condition.OneOf(
                        column,
                        referred.values().stream().<Object>map(value -> value).toList()),
                new Condition.Except(active)));
        Map<String, Set<Object>> ended = new HashMap<>();
        query.each(parent, inactive, Set.of(column.storedName()), document -> {
            ended.put(
                    KeyText.of(document.get(DocumentQuery.ID)),
                    values(document, link.parentColumns()).collect(Collectors.toSet()));
            return true;
        });
        if (ended.isEmpty()) {
            return;
        }
        long run = returning.get(0).entry().run();
        Set<String> since =
                new RecordHistory(trail).goneSince(parent.name(), List.copyOf(ended.keySet()), run, runs, true);
        since.forEach(key -> each(
                link,
                ended.get(key),
                returning,
                (one, value) -> conflict(
                        table.name(),
                        one.entry().keyText(),
                        "its " + parent + " " + key + " (" + link.where() + ") was soft-deleted since",
                        "Restore " + parent + " " + key + " first.")));
    }
}
