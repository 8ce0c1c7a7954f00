package dev.vacancy.internal.running;

import dev.vacancy.NotAsPlannedException;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.catalog.OnDelete;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.failure.Deviations;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Step;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Proves, before a run commits, that the database took no more records along by its own ON DELETE than the plan says. It
 * asks only where there is an ON DELETE that could, and where the database counts what it does.
 */
final class CascadeProof {
    private final Fragment query;
    private final Map<String, Long> most;
    private final Map<String, Set<Table>> uncounted;

    /**
     * Makes a proof.
     *
     * @param query asks the database for what it has counted, in a row each
     * @param most by how much a run may move each of the counts, by what is counted
     * @param uncounted the tables that count besides with what the run itself has deleted of them
     */
    private CascadeProof(Fragment query, Map<String, Long> most, Map<String, Set<Table>> uncounted) {
        this.query = query;
        this.most = most;
        this.uncounted = uncounted;
    }

    /** Returns what proves a plan, or empty if nothing needs it or nothing could. */
    static Optional<CascadeProof> of(Planned planned, DatabaseCatalog catalog, Dialect dialect) {
        Set<Table> reached = new LinkedHashSet<>();
        for (Link link : catalog.links()) {
            boolean acts =
                    CatalogLink.of(link).enforced() && CatalogLink.of(link).onDelete() == OnDelete.CASCADE;
            if (acts && planned.plan().counts().containsKey(link.parent().name())) {
                reached.add(link.child());
            }
        }
        if (reached.isEmpty()) {
            return Optional.empty();
        }
        Map<String, Long> deletions = new LinkedHashMap<>();
        reached.forEach(table -> deletions.put(table.name(), deletions(planned, table)));
        Map<String, Set<Table>> each = reached.stream().collect(Collectors.toMap(Table::name, Set::of));
        String all = planned.plan().table().name() + " and what links to it";
        Map<String, Long> changes =
                Map.of(all, planned.steps().stream().mapToLong(Step::count).sum());
        Map<String, Set<Table>> together =
                Map.of(all, planned.steps().stream().map(Step::table).collect(Collectors.toSet()));
        return dialect.deletedSoFar(reached.stream().map(dialect::name).toList())
                .map(asked -> new CascadeProof(asked, deletions, each))
                .or(() -> dialect.changedSoFar().map(asked -> new CascadeProof(asked, changes, together)));
    }

    private static long deletions(Planned planned, Table table) {
        return planned.steps().stream()
                .filter(step -> step instanceof Step.Delete && step.table().equals(table))
                .mapToLong(Step::count)
                .sum();
    }

    /** Asks for all that the database has counted so far. */
    Fragment query() {
        return query;
    }

    /** Reads the rows of {@link #query()}. */
    List<OptionalLong> read(ResultSet row) throws SQLException {
        List<OptionalLong> counted = new ArrayList<>();
        while (row.next()) {
            long number = row.getLong(1);
            counted.add(row.wasNull() ? OptionalLong.empty() : OptionalLong.of(number));
        }
        return counted;
    }

    /**
     * Compares what was counted before the first step with what was counted after the last.
     *
     * @param deleted what the run itself has deleted that the plan hadn't counted
     * @throws NotAsPlannedException when more went than the plan says
     */
    void compare(List<OptionalLong> before, List<OptionalLong> after, DeletedCounts deleted) {
        int i = 0;
        for (Map.Entry<String, Long> counted : most.entrySet()) {
            if (before.get(i).isPresent() && after.get(i).isPresent()) {
                long done = after.get(i).getAsLong() - before.get(i).getAsLong();
                long planned = counted.getValue()
                        + uncounted.get(counted.getKey()).stream()
                                .mapToLong(deleted::of)
                                .sum();
                if (done > planned) {
                    throw Deviations.more(counted.getKey(), planned, done);
                }
            }
            i++;
        }
    }
}
