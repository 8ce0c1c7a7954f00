package dev.vacancy.internal.restoring;

import dev.vacancy.audit.TrailRun;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Demands;
import dev.vacancy.internal.planning.Gated;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.plan.By;
import dev.vacancy.rule.Rules;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** Takes the content of a record out of the audit trail. */
final class Erasure {
    private final Planner planner;
    private final Rules rules;
    private final Clock clock;
    private final TrailTables tables;
    private final EntryReader reader;

    Erasure(Planner planner, Clock clock, TrailTables tables) {
        this.planner = planner;
        this.rules = planner.rules();
        this.clock = clock;
        this.tables = tables;
        this.reader = new EntryReader(tables);
    }

    /** Spells a key the way the trail does, or as it was given where the record isn't there. */
    static String keyText(Dialect dialect, Connection connection, Table table, Key key) throws SQLException {
        Condition itself = new Condition.Among(key.columns(), List.of(key.values()));
        return TrailKey.of(new Standing(dialect, connection)
                .keys(table, itself).stream().findFirst().orElseGet(key::texts));
    }

    /** Works out what erasing a record from the trail would do. */
    PlannedErasure plan(Connection connection, Table table, String key, By by) throws SQLException {
        Scope scope = planner.scope(connection, RequestDigest.ofErasure(table, key));
        List<TrailRun> holds = tables.holds(connection).stream()
                .filter(hold -> hold.facts().table().equals(table.name()))
                .map(Told::run)
                .toList();
        boolean there = !planner.keys(connection, table, withKey(connection, table, key), 1, false)
                .isEmpty();
        long entries = reader.whole(connection, table.name(), key);
        Demands demands = new Demands(rules, rules);
        return new PlannedErasure(
                table.name(),
                key,
                by,
                clock.instant(),
                entries,
                holds,
                there,
                // What stands in the way is told by itself, not as another plan.
                Chain.digest(scope + "\n" + entries),
                demands.withoutWayBack(table),
                demands.colleague(Map.of(table.name(), 1L)),
                scope);
    }

    /** The trail has keys in the spelling of the database, which isn't always the one that a person is asked for. */
    private Condition withKey(Connection connection, Table table, String key) throws SQLException {
        Optional<Map<String, Object>> image =
                reader.read(connection, "table_name = ? and record_key = ?", table.name(), key).stream()
                        .flatMap(entry -> entry.image().stream())
                        .filter(each -> table.identity().stream().allMatch(column -> each.get(column.name()) != null))
                        .findFirst();
        if (image.isPresent()) {
            return new Condition.Pictured(
                    table.identity(),
                    List.of(table.identity().stream()
                            .map(column -> image.get().get(column.name()))
                            .toList()));
        }
        List<String> values = TrailKey.texts(key, table.identity().size());
        return new Condition.Among(
                table.identity(),
                List.of(new KeyGiven.InOrder(values).resolve(table).values()));
    }

    /**
     * Takes the content out of all entries of a record, and writes down that this was done.
     *
     * @param passage proof that it, or the deletion that it is part of, has come through the gate
     * @param gone what has come through
     * @return how many entries have lost their content
     */
    long carryOut(Passage passage, Gated gone, Connection connection, String table, String key, UUID id)
            throws SQLException {
        passage.require(gone);
        long count = reader.erase(connection, table, key, id);
        tables.eraseSelections(connection, table, key, id);
        new Chain(tables)
                .append(
                        connection,
                        new Facts(rules, clock)
                                .of(
                                        id,
                                        "erasure",
                                        passage.by(),
                                        table,
                                        table + " " + key,
                                        Map.of(table, count),
                                        Optional.empty()));
        return count;
    }
}
