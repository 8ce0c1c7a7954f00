package dev.vacancy.internal.tracing;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SqlCondition;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.follow.FollowUpTables;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.request.Comparison;
import dev.vacancy.internal.restoring.Belonging;
import dev.vacancy.internal.restoring.CurrentRows;
import dev.vacancy.internal.restoring.Erasure;
import dev.vacancy.internal.restoring.Mentions;
import dev.vacancy.internal.restoring.RecordTraces;
import dev.vacancy.internal.restoring.TextElsewhere;
import dev.vacancy.internal.retiring.Retiring;
import dev.vacancy.internal.rules.PersonTrace;
import dev.vacancy.internal.rules.PersonTrace.TextPlace;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.SoughtText;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiPredicate;

/** Finds what a database knows of one person. It only ever reads. */
final class Tracer {
    private static final By NOBODY = By.program("trace");
    private static final TextElsewhere.Found NONE = new TextElsewhere.Found(List.of(), List.of());

    private final Planner planner;
    private final Rules rules;
    private final Dialect dialect;
    private final Optional<TrailTables> tables;
    private final TextElsewhere elsewhere;

    Tracer(Planner planner, Dialect dialect, TextElsewhere elsewhere) {
        this.planner = planner;
        this.rules = planner.rules();
        this.dialect = dialect;
        this.tables = rules.recording().map(recording -> new TrailTables(recording.trail(), dialect));
        this.elsewhere = elsewhere;
    }

    /** Where the trail is, if there is one. */
    Optional<TrailTables> tables() {
        return tables;
    }

    /** Plans what becomes of records: whatever goes with the person goes for good. */
    Planner erasing(Table table) {
        return planner.under(rules.erasing(table));
    }

    static Selection selection(Table table, Key key) {
        return Selection.of(table.name()).keys(List.of(key.values())).hard();
    }

    /** Looks, and locks nothing. */
    Findings look(Connection connection, Table table, Key key) throws SQLException {
        Planned planned = erasing(table).on(connection).trace(selection(table, key), NOBODY);
        return find(connection, table, key, planned, false);
    }

    /** Does the same, and refuses what couldn't be carried out. */
    Findings look(Connection connection, Table table, Key key, By by) throws SQLException {
        Planned planned = erasing(table).on(connection).preview(selection(table, key), by);
        return find(connection, table, key, planned, false);
    }

    /** Finds the rest, once it is known what becomes of records. */
    Findings find(Connection connection, Table table, Key key, Planned planned, boolean locking) throws SQLException {
        PersonTrace trace = rules.traceOf(table);
        String text = Erasure.keyText(dialect, connection, table, key);
        Optional<RecordContent> record = planned.plan().roots().stream().findFirst();
        Optional<RecordTraces> recorded = recorded(connection, table, text, belonging(connection, table, planned));
        List<StoredEntry> own = recorded.map(RecordTraces::entries).orElse(List.of()).stream()
                .filter(entry -> entry.table().equals(table.name()) && text.equals(entry.key()))
                .toList();
        KnownTexts known = KnownTexts.of(trace, record, own);
        List<String> warnings = new ArrayList<>(planned.plan().warnings());
        known.tooShort()
                .forEach(
                        one -> warnings.add("'" + one + "' isn't looked for: it would be found in words of any kind."));
        if (record.isPresent()) {
            warnings.addAll(namesakes(connection, trace, record.get()));
        }
        warnings.addAll(Retiring.outOfSight(connection, dialect));
        return find(
                connection,
                new Findings(
                        trace,
                        text,
                        key,
                        record,
                        planned,
                        recorded,
                        known.sought(),
                        Map.of(),
                        Optional.empty(),
                        NONE,
                        NONE,
                        Map.of(),
                        theirs(table, text, recorded),
                        warnings),
                locking);
    }

    /** Looks for texts and lines, which may be known from before: once a record is gone, nobody can tell any more what it was called. */
    Findings find(Connection connection, Findings known, boolean locking) throws SQLException {
        Map<TextPlace, List<TextRows.Row>> texts = new LinkedHashMap<>();
        Optional<Mentions> mentions = Optional.empty();
        TextElsewhere.Found words = NONE;
        if (known.sought().isPresent()) {
            SoughtText sought = known.sought().get();
            TextRows rows =
                    new TextRows(rules, dialect, connection, planner.limits().lockWait());
            for (TextPlace place : known.rules().places()) {
                List<TextRows.Row> found = new ArrayList<>(rows.find(place, sought, known.planned(), locking));
                found.removeIf(row -> isMaskedAnyway(known, place, row));
                texts.put(place, found);
            }
            if (tables.isPresent()) {
                mentions = Optional.of(
                        Mentions.of(rules.catalog(), tables.get(), connection, sought, masked(known.rules())));
                known.recorded().ifPresent(mentions.get()::leaveOut);
            }
            words = elsewhere.look(connection, sought);
        }
        return new Findings(
                known.rules(),
                known.key(),
                known.given(),
                known.record(),
                known.planned(),
                known.recorded(),
                known.sought(),
                texts,
                mentions,
                words,
                elsewhere.list(connection, known.theirs()),
                FollowUpTables.waiting(connection, dialect, known.theirs()),
                known.theirs(),
                known.warnings());
    }

    /** What the trail tells of the record, and of those that belong to it or did. */
    Optional<RecordTraces> recorded(Connection connection, Table table, String key, Belonging belonging)
            throws SQLException {
        return tables.isEmpty()
                ? Optional.empty()
                : Optional.of(RecordTraces.of(rules.catalog(), tables.get(), connection, table, key, belonging));
    }

    /** The keys of what belongs to the person, as far as anything can hang on it. */
    private Belonging belonging(Connection connection, Table root, Planned planned) throws SQLException {
        Map<Table, Set<String>> there = new LinkedHashMap<>();
        CurrentRows rows = new CurrentRows(dialect, connection);
        for (String name : planned.plan().counts().keySet()) {
            Table table = rules.catalog().table(name);
            Optional<Condition> going = planned.going().apply(table);
            boolean hasChildren = !rules.catalog().linksTo(table).isEmpty();
            if (tables.isPresent()
                    && hasChildren
                    && !table.equals(root)
                    && going.isPresent()
                    && !table.identity().isEmpty()) {
                Set<String> keys = new TreeSet<>();
                rows.each(
                        table,
                        table.identity(),
                        going.get(),
                        query -> query,
                        image -> keys.add(TrailKey.of(rows.texts(table.identity(), image))));
                there.put(table, keys);
            }
        }
        return new Belonging(
                rules.erasing(root)::mayCascade,
                there,
                table -> planned.plan().counts().containsKey(table.name())
                        ? planned.going().apply(table)
                        : Optional.empty());
    }

    /** The same once all that is there has gone. */
    Belonging formerly(Table table) {
        return new Belonging(rules.erasing(table)::mayCascade, Map.of(), other -> Optional.empty());
    }

    /** Tells which records are the person's, as far as that is told by keys. */
    static BiPredicate<String, String> theirs(Table table, String key, Optional<RecordTraces> recorded) {
        return (name, other) -> (name.equals(table.name()) && other.equals(key))
                || recorded.filter(traces -> traces.tellsOf(name, other)).isPresent();
    }

    static BiPredicate<String, String> masked(PersonTrace trace) {
        return (table, column) -> trace.places().stream()
                .anyMatch(place -> place.kept().isEmpty()
                        && place.table().name().equals(table)
                        && place.column().name().equals(column));
    }

    private static boolean isMaskedAnyway(Findings known, TextPlace place, TextRows.Row row) {
        return place.table().equals(known.table())
                && known.rules().masked().contains(place.column())
                && TrailKey.of(row.key()).equals(known.key());
    }

    /** A text stands for everybody who is called so. */
    private List<String> namesakes(Connection connection, PersonTrace trace, RecordContent record) {
        List<String> warnings = new ArrayList<>();
        for (Column column : trace.knownBy()) {
            Object value = record.values().get(column.name());
            if (value == null || trace.places().isEmpty()) {
                continue;
            }
            Condition others = new Condition.AllOf(List.of(
                    new Condition.Compares(column, Comparison.EQUAL, value),
                    new Condition.Except(new Condition.Among(
                            trace.table().identity(), List.of(record.key().values())))));
            List<Key> found = planner.on(connection).reader().keys(trace.table(), others, 1, false);
            if (!found.isEmpty()) {
                warnings.add(
                        "Another " + trace.table().name() + ", " + found.get(0).text() + ", has the same "
                                + column.name() + ": where it stands, either may be meant.");
            }
        }
        return warnings;
    }

    /** Values of two types are the same if their texts are. */
    private long count(Connection connection, Link link, RecordContent parent) throws SQLException {
        List<Fragment> parts = new ArrayList<>();
        for (int i = 0; i < link.childColumns().size(); i++) {
            Column child = link.childColumns().get(i);
            Column column = link.parentColumns().get(i);
            Object value = parent.values().get(column.name());
            if (value == null) {
                return 0;
            }
            String name = dialect.name(Statements.alias(), child);
            parts.add(
                    ColumnType.of(child).equals(ColumnType.of(column))
                            ? SqlCondition.of(
                                    new Condition.Compares(child, Comparison.EQUAL, value), dialect, Statements.alias())
                            : Fragment.of(
                                    dialect.codec(child).text(name) + " = ?", Binding.of(ColumnType.spelling(value))));
        }
        Fragment query = Statements.select(
                List.of("count(*)"),
                dialect.from(
                        dialect.name(link.child()), Statements.alias(), List.of(), List.of(Fragment.allOf(parts))));
        try (PreparedStatement statement = query.prepare(connection);
                ResultSet row = statement.executeQuery()) {
            row.next();
            return row.getLong(1);
        }
    }

    /** Counts the records that refer to one that is gone. The database may not know that they do. */
    Map<Link, Long> referring(Connection connection, Table table, RecordContent record) throws SQLException {
        Map<Link, Long> referring = new LinkedHashMap<>();
        for (Link link : rules.catalog().linksTo(table)) {
            long count = count(connection, link, record);
            if (count > 0) {
                referring.put(link, count);
            }
        }
        return referring;
    }
}
