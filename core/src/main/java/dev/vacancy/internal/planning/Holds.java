package dev.vacancy.internal.planning;

import dev.vacancy.Criteria;
import dev.vacancy.DatabaseException;
import dev.vacancy.Held;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.ToLongFunction;

/** What must neither go nor be changed, because somebody holds it. */
final class Holds {
    private final Rules rules;
    private final Lookup lookup;
    private final Connection connection;
    private final Clock clock;
    private final HoldsInForce inForce;

    Holds(Rules rules, Lookup lookup, Connection connection, Clock clock, HoldsInForce inForce) {
        this.rules = rules;
        this.lookup = lookup;
        this.connection = connection;
        this.clock = clock;
        this.inForce = inForce;
    }

    /** Finds the held ones among the records that steps remove or change. */
    List<Held> on(List<Step> steps) {
        return held(hold -> {
            long count = 0;
            for (Step step : steps) {
                boolean bookkeeping = step instanceof Step.Touch || step instanceof Step.Loosen;
                if (!bookkeeping && step.table().name().equals(hold.facts().table())) {
                    count += count(hold, step.table(), step.condition());
                }
            }
            return count;
        });
    }

    /** Finds the held ones among some records. */
    List<Held> on(Table table, Condition condition) {
        return held(hold -> table.name().equals(hold.facts().table()) ? count(hold, table, condition) : 0);
    }

    private List<Held> held(ToLongFunction<StoredRun> counting) {
        List<Held> held = new ArrayList<>();
        for (StoredRun hold : inForce.runs()) {
            long count = counting.applyAsLong(hold);
            if (count > 0) {
                held.add(new Held(
                        hold.facts().runId().toString(),
                        hold.facts().table(),
                        count,
                        hold.facts().reason().orElse(""),
                        hold.facts().actor()));
            }
        }
        return held;
    }

    private long count(StoredRun hold, Table table, Condition among) {
        if (hold.facts().kind() == RunKind.STANDING_HOLD) {
            Criteria criteria = Criteria.parse(hold.facts().selection());
            return count(table, among, Resolution.of(criteria, table, rules.catalog(), clock));
        }
        try {
            TrailTables tables = new TrailTables(rules.recording().orElseThrow().trail(), lookup.dialect());
            EntryReader reader = new EntryReader(tables);
            long[] count = {0};
            reader.each(
                    connection,
                    hold.facts().runId(),
                    1,
                    portion -> count[0] += count(
                            table, among, new Condition.Pictured(table.identity(), keys(table.identity(), portion))));
            return count[0];
        } catch (SQLException failure) {
            throw new DatabaseException("read which records are held", "Nothing was changed.", failure);
        }
    }

    private long count(Table table, Condition among, Condition held) {
        return lookup.count(table, new Condition.AllOf(List.of(among, held)));
    }

    /** A column of the key that has been renamed since is known by its place. */
    private static List<List<Object>> keys(List<Column> identity, List<StoredEntry> portion) {
        List<List<Object>> keys = new ArrayList<>();
        for (StoredEntry entry : portion) {
            Map<String, Object> image = entry.image().orElse(Map.of());
            boolean same = identity.stream().allMatch(column -> image.containsKey(column.name()));
            if (same) {
                keys.add(identity.stream()
                        .map(column -> image.get(column.name()))
                        .toList());
            } else if (image.size() == identity.size()) {
                keys.add(List.copyOf(image.values()));
            }
        }
        return keys;
    }
}
