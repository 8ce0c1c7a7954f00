package dev.vacancy.internal.engine;

import dev.vacancy.Outcome;
import dev.vacancy.Reporting;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.CompletedRun;
import dev.vacancy.internal.running.Transactions;
import java.util.Collection;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Has caches forget what runs, restores and chunks have changed, as soon as that is so.
 *
 * @param caches what holds records
 * @param rules say which records runs write on, and reach
 * @param transactions tell whether the application's is joined
 * @param committed tells when it is committed
 */
record CacheUpdates(RecordCaches caches, Rules rules, Transactions transactions, CommitNotifier committed) {
    /** The names of tables whose keys a run has to tell. */
    Set<String> held() {
        return caches.held(rules.catalog());
    }

    /** Forgets what a run has changed, and returns what of its outcome the caller has asked for. */
    Outcome after(CompletedRun whole, Reporting asked, Set<String> held) {
        if (!caches.all().isEmpty()) {
            Set<String> stamped = names(rules.softness().modified().keySet().stream()
                    .map(Table::name)
                    .toList());
            forget(ChangedRecords.by(whole, held, stamped));
        }
        return held.isEmpty() ? whole : whole.keysOf(names(asked.keysOf()));
    }

    /** Forgets what a restore has changed. */
    void after(RestoreOutcome outcome) {
        forget(ChangedRecords.by(outcome));
    }

    /** Forgets what a chunk may have changed: all records that it can reach. */
    void after(BulkRun run) {
        if (!caches.all().isEmpty()) {
            forget(ChangedRecords.anyOf(rules.around(rules.catalog().table(run.table())).catalog().tables().stream()
                    .map(Table::name)
                    .toList()));
        }
    }

    /** Forgets what an erasure may have changed: all records that it can reach, and those that have texts masked. */
    void afterErasing(Rules erasing) {
        if (!caches.all().isEmpty()) {
            forget(ChangedRecords.anyOf(
                    erasing.catalog().tables().stream().map(Table::name).toList()));
        }
    }

    /** What a cache throws takes the application's transaction back, and hinders nothing that is committed. */
    private void forget(ChangedRecords changed) {
        if (caches.all().isEmpty()) {
            return;
        }
        if (transactions.isJoined()) {
            caches.forget(changed, rules.catalog());
            committed.afterCommit(() -> caches.forgetCommitted(changed, rules.catalog(), false));
        } else {
            caches.forgetCommitted(changed, rules.catalog(), true);
        }
    }

    private Set<String> names(Collection<String> tables) {
        return tables.stream().map(table -> rules.catalog().table(table).name()).collect(Collectors.toSet());
    }
}
