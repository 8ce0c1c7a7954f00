package dev.vacancy.internal.chunking;

import dev.vacancy.Blocker;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Skipped;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.running.LentConnection;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.trail.HoldsInForce;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Deletes some records of a run, and says in the same transaction what became of each. */
final class Chunk {
    private final BulkRun run;
    private final Table table;
    private final RunConditions conditions;
    private final Exemption exemption;
    private final Runner runner;
    private final Planner planner;
    private final StateTables tables;
    private Optional<HoldsInForce> holds = Optional.empty();

    Chunk(BulkRun run, RunConditions conditions, Exemption exemption, ChunkedRuns runs) {
        this.run = run;
        this.table = runs.planner().rules().catalog().table(run.table());
        this.conditions = conditions;
        this.exemption = exemption;
        this.runner = runs.runner();
        this.planner = runs.planner();
        this.tables = runs.tables();
    }

    /** Is told what must not go, before the transaction begins. */
    void keepOff(Optional<HoldsInForce> held) {
        holds = held;
    }

    /** There is more below the records than a transaction should take. */
    static final class TooLarge extends RuntimeException {
        private static final long serialVersionUID = 1L;
    }

    /** Records that the application wants to keep; nothing was changed yet. */
    private static final class Kept extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final transient Map<Key, String> reasons;

        Kept(Map<Key, String> reasons) {
            this.reasons = reasons;
        }
    }

    /**
     * Deletes records.
     *
     * @param mostRecords how many records may go in all, those below them among them
     * @return what became of them, once the transaction is committed
     * @throws TooLarge when there would be more
     */
    Done delete(List<ClaimedRecord> claimed, long mostRecords, Connection connection) throws SQLException {
        Map<Key, ClaimedRecord> open = new LinkedHashMap<>();
        for (ClaimedRecord one : claimed) {
            open.put(
                    RecordKey.of(GivenKeys.resolve(new KeyGiven.InOrder(one.key()), table))
                            .comparable(),
                    one);
        }
        long skipped = 0;
        long failed = 0;
        Plan plan;
        try {
            plan = delete(open, mostRecords, true, connection);
        } catch (Kept kept) {
            for (Map.Entry<Key, String> reason : kept.reasons.entrySet()) {
                ClaimedRecord one = take(open, reason.getKey(), claimed.size());
                tables.mark(connection, run.runId(), List.of(one), "skipped", reason.getValue());
                skipped++;
            }
            if (open.isEmpty()) {
                tables.count(connection, run.runId(), 0, skipped, 0, 0);
                return Done.NOTHING;
            }
            plan = delete(open, mostRecords, false, connection);
        }
        for (Skipped blocked : plan.skipped()) {
            ClaimedRecord one = take(open, blocked.root().key(), claimed.size());
            tables.fail(connection, run.runId(), one, reason(blocked));
            failed++;
        }
        List<ClaimedRecord> gone = new ArrayList<>();
        for (Key missing : plan.notFound()) {
            gone.add(take(open, missing, claimed.size()));
        }
        for (Key deleted : plan.alreadyDeleted()) {
            gone.add(take(open, deleted, claimed.size()));
        }
        tables.mark(connection, run.runId(), gone, "skipped", "it wasn't there any more");
        tables.mark(connection, run.runId(), open.values(), "done", null);
        tables.count(connection, run.runId(), open.size(), skipped + gone.size(), failed, plan.total());
        return new Done(failed, plan.roots());
    }

    /**
     * What became of a chunk.
     *
     * @param blocked how many of the records are blocked
     * @param deleted the selected ones that are gone
     */
    record Done(long blocked, List<RecordContent> deleted) {
        static final Done NOTHING = new Done(0, List.of());
    }

    private Plan delete(Map<Key, ClaimedRecord> open, long mostRecords, boolean asking, Connection connection) {
        Selection selection = conditions.select(Selection.of(run.table())
                .keys(open.values().stream().map(ClaimedRecord::key).toList())
                .skippingBlocked());
        return runner.runChunk(selection, run.by(), run.runId(), conditions.standing(), holds, connection, plan -> {
            if (plan.total() > mostRecords) {
                throw new TooLarge();
            }
            if (asking) {
                Map<Key, String> reasons = new LinkedHashMap<>(exempt(plan, LentConnection.of(connection)));
                reasons.putAll(changed(plan, connection));
                if (!reasons.isEmpty()) {
                    throw new Kept(reasons);
                }
            }
        });
    }

    private Map<Key, String> exempt(Plan plan, Connection lent) {
        Map<Key, String> reasons = new LinkedHashMap<>();
        for (RecordContent record : plan.roots()) {
            Optional<String> reason = exemption.reasonToKeep(record, lent);
            reason.ifPresent(why -> reasons.put(RecordKey.of(record.key()).comparable(), why));
        }
        return reasons;
    }

    /** Those that have stopped matching since the run began, now that nobody changes them any more. */
    private Map<Key, String> changed(Plan plan, Connection connection) {
        if (conditions.criteria().isEmpty() || plan.roots().isEmpty()) {
            return Map.of();
        }
        List<Key> locked = plan.roots().stream().map(RecordContent::key).toList();
        Set<Key> matching =
                planner
                        .matching(
                                connection, table, locked, conditions.criteria().get(), conditions.moment())
                        .stream()
                        .map(key -> RecordKey.of(key).comparable())
                        .collect(Collectors.toSet());
        Map<Key, String> reasons = new LinkedHashMap<>();
        locked.stream()
                .map(key -> RecordKey.of(key).comparable())
                .filter(key -> !matching.contains(key))
                .forEach(key -> reasons.put(key, "it has stopped matching since the run began"));
        return reasons;
    }

    /** Where a record can't be told by its key, the chunk is taken apart until there is only one that it can be. */
    private static ClaimedRecord take(Map<Key, ClaimedRecord> open, Key key, int claimed) {
        ClaimedRecord one = open.remove(RecordKey.of(key).comparable());
        if (one == null && claimed == 1 && open.size() == 1) {
            return open.remove(open.keySet().iterator().next());
        }
        if (one == null) {
            throw new TooLarge();
        }
        return one;
    }

    private static String reason(Skipped blocked) {
        return blocked.blockers().stream().map(Blocker::text).collect(Collectors.joining("; "));
    }
}
