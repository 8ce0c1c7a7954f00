package dev.vacancy.internal.tracing;

import dev.vacancy.Blocker;
import dev.vacancy.Effect;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.restoring.Mentions;
import dev.vacancy.internal.restoring.RecordTraces;
import dev.vacancy.internal.rules.PersonTrace.TextPlace;
import dev.vacancy.internal.trail.ReadableImage;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.rule.Rule;
import dev.vacancy.trace.Relation;
import dev.vacancy.trace.TracedRecord;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.stream.Stream;

/** Hands out what is known of a person: their own records whole, of all others what concerns them. */
final class TraceExport {
    private final Planner planner;
    private final ReadableImage readable;
    private final Optional<TrailTables> tables;
    private final Connection connection;
    private final Consumer<TracedRecord> each;
    private final Map<Long, Optional<UUID>> runs = new HashMap<>();

    TraceExport(Planner planner, Optional<TrailTables> tables, Connection connection, Consumer<TracedRecord> each) {
        this.planner = planner;
        this.readable = new ReadableImage(planner.rules().catalog());
        this.tables = tables;
        this.connection = connection;
        this.each = each;
    }

    void handOut(Findings found) throws SQLException {
        if (found.record().isPresent()) {
            tell(Relation.RECORD, found.record().get());
            handOutRecords(found.table(), found.planned());
        }
        found.texts().forEach((place, rows) -> rows.forEach(row -> tell(place, row)));
        for (StoredEntry entry : found.recorded().map(RecordTraces::entries).orElse(List.of())) {
            tell(entry, Optional.empty());
        }
        for (Mentions.InEntry in : found.mentions().map(Mentions::entries).orElse(List.of())) {
            tell(in.entry(), Optional.of(in.columns()));
        }
    }

    private void handOutRecords(Table root, Planned planned) {
        for (String name : planned.plan().counts().keySet()) {
            Table table = planner.rules().catalog().table(name);
            Optional<Condition> going = planned.going().apply(table);
            if (!table.equals(root) && going.isPresent() && !table.identity().isEmpty()) {
                planner.on(connection)
                        .reader()
                        .eachRecord(table, going.get(), record -> tell(Relation.BELONGING, record));
            }
        }
        Stream<Link> changed = planned.plan().effects().stream()
                .filter(effect -> effect.rule() != Rule.CASCADE)
                .map(Effect::link);
        Set<Link> mentioning = new LinkedHashSet<>(changed.toList());
        planned.plan().blockers().stream().map(Blocker::link).forEach(mentioning::add);
        mentioning.forEach(link -> handOutMentions(link, planned));
    }

    /** Of a record that isn't the person's own, only that it refers to them is theirs to know. */
    private void handOutMentions(Link link, Planned planned) {
        Optional<Condition> parents = planned.going().apply(link.parent());
        if (parents.isEmpty() || link.child().identity().isEmpty()) {
            return;
        }
        Condition children = new Condition.OfManyParents(link, parents.get());
        Condition staying = planned.plan().counts().containsKey(link.child().name())
                ? planned.going()
                        .apply(link.child())
                        .<Condition>map(going -> new Condition.AllOf(List.of(children, new Condition.Except(going))))
                        .orElse(children)
                : children;
        planner.on(connection)
                .reader()
                .eachRecord(
                        link.child(),
                        staying,
                        record -> each.accept(new TracedRecord(
                                Relation.MENTION,
                                link.child().name(),
                                Optional.of(TrailKey.of(record.key().texts())),
                                only(record, link.childColumns()),
                                Optional.empty())));
    }

    private static Map<String, Object> only(RecordContent record, Collection<Column> columns) {
        Map<String, Object> values = new LinkedHashMap<>();
        record.key()
                .columns()
                .forEach(column -> values.put(column.name(), record.values().get(column.name())));
        columns.forEach(column -> values.put(column.name(), record.values().get(column.name())));
        return values;
    }

    private void tell(Relation relation, RecordContent record) {
        each.accept(new TracedRecord(
                relation,
                record.table().name(),
                Optional.of(TrailKey.of(record.key().texts())),
                record.values(),
                Optional.empty()));
    }

    private void tell(TextPlace place, TextRows.Row row) {
        each.accept(new TracedRecord(
                Relation.TEXT,
                place.table().name(),
                Optional.of(TrailKey.of(row.key())),
                Map.of(place.column().name(), row.text()),
                Optional.empty()));
    }

    private void tell(StoredEntry entry, Optional<List<String>> columns) throws SQLException {
        Map<String, Object> values = new LinkedHashMap<>(
                entry.image().map(image -> readable.typed(entry.table(), image)).orElse(Map.of()));
        columns.ifPresent(only -> values.keySet().retainAll(only));
        if (!values.isEmpty()) {
            each.accept(new TracedRecord(
                    Relation.TRAIL, entry.table(), Optional.ofNullable(entry.key()), values, run(entry.run())));
        }
    }

    private Optional<UUID> run(long number) throws SQLException {
        if (!runs.containsKey(number) && tables.isPresent()) {
            runs.put(
                    number,
                    tables.get().run(connection, number).map(run -> run.facts().runId()));
        }
        return runs.getOrDefault(number, Optional.empty());
    }
}
