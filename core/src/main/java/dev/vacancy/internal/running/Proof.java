package dev.vacancy.internal.running;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.OnDelete;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.plan.Plan;
import dev.vacancy.run.NotAsPlannedException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;

/**
 * Proves, before a run commits, that the database took no more records along by its own ON DELETE than the plan says. It
 * asks only where there is an ON DELETE that could, and where the database counts what it does.
 */
final class Proof {
    private final Plan plan;
    private final List<Step> steps;
    private final Dialect dialect;
    private final Connection connection;
    private final Map<Table, OptionalLong> deleted = new LinkedHashMap<>();
    private final OptionalLong changed;

    private Proof(Planned planned, Set<Table> reached, Dialect dialect, Connection connection) throws SQLException {
        this.steps = planned.steps();
        this.plan = planned.plan();
        this.dialect = dialect;
        this.connection = connection;
        for (Table table : reached) {
            deleted.put(table, count(dialect.deletedSoFar(dialect.name(table))));
        }
        this.changed = reached.isEmpty() ? OptionalLong.empty() : count(dialect.changedSoFar());
    }

    static Proof begin(Planned planned, Catalog catalog, Dialect dialect, Connection connection) throws SQLException {
        Set<Table> reached = new LinkedHashSet<>();
        for (Link link : catalog.links()) {
            boolean acts = link.declared() && link.onDelete() == OnDelete.CASCADE;
            if (acts && planned.plan().counts().containsKey(link.parent().name())) {
                reached.add(link.child());
            }
        }
        return new Proof(planned, reached, dialect, connection);
    }

    void end() throws SQLException {
        for (Map.Entry<Table, OptionalLong> before : deleted.entrySet()) {
            Table table = before.getKey();
            OptionalLong now = count(dialect.deletedSoFar(dialect.name(table)));
            long planned = plan.counts().getOrDefault(table.name(), 0L);
            if (before.getValue().isPresent() && now.isPresent()) {
                refuse(
                        table.name(),
                        planned,
                        now.getAsLong() - before.getValue().getAsLong());
            }
        }
        OptionalLong now = changed.isPresent() ? count(dialect.changedSoFar()) : OptionalLong.empty();
        if (now.isPresent()) {
            refuse(
                    plan.table().name() + " and what links to it",
                    steps.stream().mapToLong(Step::count).sum(),
                    now.getAsLong() - changed.getAsLong());
        }
    }

    private static void refuse(String table, long planned, long done) {
        if (done > planned) {
            throw NotAsPlannedException.more(table, planned, done);
        }
    }

    private OptionalLong count(Optional<Fragment> query) throws SQLException {
        if (query.isEmpty()) {
            return OptionalLong.empty();
        }
        try (PreparedStatement statement = query.get().prepare(connection);
                ResultSet row = statement.executeQuery()) {
            long number = row.next() ? row.getLong(1) : 0;
            return row.wasNull() ? OptionalLong.empty() : OptionalLong.of(number);
        }
    }
}
