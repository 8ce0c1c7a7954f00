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
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.running.LentConnection;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.trail.HoldsInForce;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
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

    /** A part on other servers that has to be written down as begun before it is, since no commit spans both; nothing was changed yet. */
    static final class Unannounced extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final String table;

        private Unannounced(String table) {
            this.table = table;
        }

        String table() {
            return table;
        }

        static void refuse(Planned part, Collection<Begun> begun) {
            part.elsewhere()
                    .filter(table -> !begun.stream().allMatch(one -> one.isAnnounced(table)))
                    .ifPresent(table -> {
                        throw new Unannounced(table);
                    });
        }
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
        Runner.ChunkPart part;
        try {
            try {
                part = delete(open, mostRecords, true, connection);
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
                part = delete(open, mostRecords, false, connection);
            }
        } catch (Unannounced beginning) {
            for (ClaimedRecord one : open.values()) {
                tables.begin(connection, run.runId(), one, one.begun().announcing(beginning.table()));
            }
            tables.count(connection, run.runId(), 0, skipped, 0, 0);
            return Done.GOES_ON;
        }
        Plan plan = part.plan();
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
        long deleted =
                part.deleted().values().stream().mapToLong(Long::longValue).sum();
        if (!part.last()) {
            for (ClaimedRecord one : open.values()) {
                tables.begin(connection, run.runId(), one, one.begun().with(part.deleted(), open.size() - 1));
            }
            tables.count(connection, run.runId(), 0, skipped + gone.size(), failed, deleted);
            return new Done(failed, List.of(), true);
        }
        tables.mark(connection, run.runId(), open.values(), "done", null);
        tables.count(connection, run.runId(), open.size(), skipped + gone.size(), failed, deleted);
        return new Done(failed, plan.roots(), false);
    }

    /**
     * What became of a chunk.
     *
     * @param blocked how many of the records are blocked
     * @param deleted the selected ones that are gone
     * @param goesOn whether more is to be done of the others, in another transaction
     */
    record Done(long blocked, List<RecordContent> deleted, boolean goesOn) {
        static final Done NOTHING = new Done(0, List.of(), false);
        static final Done GOES_ON = new Done(0, List.of(), true);
    }

    private Runner.ChunkPart delete(
            Map<Key, ClaimedRecord> open, long mostRecords, boolean asking, Connection connection) {
        Selection selection = conditions.select(Selection.of(run.table())
                .keys(open.values().stream().map(ClaimedRecord::key).toList())
                .skippingBlocked());
        return runner.runChunk(selection, run.by(), run.runId(), conditions.standing(), holds, connection, planned -> {
            Plan plan = planned.plan();
            boolean large = plan.total() > mostRecords;
            if (large && open.size() > 1) {
                throw new TooLarge();
            }
            // What is below a record that is kept stays as well, however much it is.
            if (asking) {
                Map<Key, String> reasons = new LinkedHashMap<>(exempt(plan, LentConnection.of(connection)));
                reasons.putAll(changed(plan, connection));
                if (!reasons.isEmpty()) {
                    throw new Kept(reasons);
                }
            }
            if (large) {
                throw new TooLarge();
            }
            Unannounced.refuse(
                    planned, open.values().stream().map(ClaimedRecord::begun).toList());
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
        Set<Key> matching = planner
                .on(connection)
                .reader()
                .matching(table, locked, conditions.criteria().get(), planner.at(conditions.moment()))
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
