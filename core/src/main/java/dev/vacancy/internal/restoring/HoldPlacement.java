package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.EntryWriter;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** Puts records on hold: which they are is written down, so that no later change lets one of them slip away. */
final class HoldPlacement {
    private final Rules rules;
    private final Dialect dialect;
    private final Clock clock;
    private final TrailTables tables;

    HoldPlacement(Planner planner, Dialect dialect, Clock clock, TrailTables tables) {
        this.rules = planner.rules();
        this.dialect = dialect;
        this.clock = clock;
        this.tables = tables;
    }

    UUID hold(Connection connection, String name, String criteria, By by, UUID id) throws SQLException {
        Table table = rules.catalog().table(name);
        CatalogTable.of(table).requireIdentity();
        Criteria wanted = Criteria.parse(criteria);
        Condition condition = Resolution.of(wanted, table, rules.catalog(), clock);
        // Whoever is removing some of them ends first, or sees this hold before it does.
        new Chain(tables).lock(connection);
        List<Map<Column, Object>> keys =
                new CurrentRows(dialect, connection).images(table, table.identity(), condition);
        if (keys.isEmpty()) {
            throw HistoryRequests.noneToHold(table, wanted);
        }
        write(connection, table, keys, id);
        RunFacts facts = new TrailChangeFacts(rules, clock)
                .of(id, RunKind.HOLD, by, table.name(), wanted.toString(), Map.of(table.name(), (long) keys.size()));
        new Chain(tables).append(connection, facts);
        return id;
    }

    private void write(Connection connection, Table table, List<Map<Column, Object>> keys, UUID id)
            throws SQLException {
        Recorder.Heading heading = new Recorder.Heading(id, 1, Action.HELD, table.name(), Optional.empty());
        Recorder recorder = new Recorder(rules.recording().orElseThrow(), dialect);
        CurrentRows standing = new CurrentRows(dialect, connection);
        try (EntryWriter writer = recorder.writer(connection)) {
            long place = 0;
            for (Map<Column, Object> key : keys) {
                Map<String, Object> image = new LinkedHashMap<>();
                key.forEach((column, value) -> image.put(column.name(), value));
                String text = TrailKey.of(standing.texts(table.identity(), key));
                writer.add(heading, ++place, text, Image.write(image), null);
            }
            writer.flush();
        }
    }
}
