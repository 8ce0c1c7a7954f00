package dev.vacancy.internal.restoring;

import dev.vacancy.Criteria;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.request.CriteriaNode;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.rules.Rules;
import java.sql.SQLException;
import java.time.Clock;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The rows that close others, in a table where the latest row of a key holds. */
final class Closings {
    private final Rules rules;
    private final Clock clock;
    private final CurrentRows standing;

    Closings(Rules rules, Clock clock, CurrentRows standing) {
        this.rules = rules;
        this.clock = clock;
        this.standing = standing;
    }

    /** Picks the row that closes a record now. */
    static Condition of(RecordContent record, Table table, LatestRow latest, Rules rules, Clock clock) {
        Criteria same = latest.closed(table).and(last(latest));
        for (String column : latest.key()) {
            same = same.and(Criteria.column(column)
                    .equalTo(record.values().get(table.column(column).name())));
        }
        return Resolution.of(same, table, rules.catalog(), clock);
    }

    private static Criteria last(LatestRow latest) {
        return new CriteriaNode.Sibling(latest.key(), Optional.of(latest.column()), Optional.empty()).not();
    }

    /** Picks the row that a run has appended to close a record. */
    static Condition appended(Table table, LatestRow latest, RestorableRow row) {
        Column start = table.column(latest.column());
        List<Column> key = key(table, latest);
        String begun = String.valueOf(row.entry().alteration().orElseThrow().get(start.name()));
        return new Condition.AllOf(List.of(
                new Condition.Pictured(key, List.of(row.values(key))),
                new Condition.Means(start, CatalogTable.of(table).convert(start, begun))));
    }

    private static List<Column> key(Table table, LatestRow latest) {
        return latest.key().stream().map(table::column).toList();
    }

    /** The records whose closing row is still the last one: nobody has opened them again. */
    Set<RestorableRow> closed(Table table, LatestRow latest, List<RestorableRow> rows) throws SQLException {
        List<Column> key = key(table, latest);
        Condition own = Condition.anyOf(
                        rows.stream().map(row -> appended(table, latest, row)).toList())
                .orElseThrow();
        Condition same = new Condition.Pictured(
                key, rows.stream().map(row -> row.values(key)).distinct().toList());
        Condition ending = Resolution.of(latest.closed(table).and(last(latest)), table, rules.catalog(), clock);
        Set<List<String>> keys = new LinkedHashSet<>();
        for (Map<Column, Object> found : standing.images(table, key, new Condition.AllOf(List.of(same, own, ending)))) {
            keys.add(standing.texts(key, found));
        }
        Set<RestorableRow> closed = new LinkedHashSet<>(rows);
        closed.removeIf(row -> !keys.contains(standing.texts(key, row.image())));
        return closed;
    }
}
