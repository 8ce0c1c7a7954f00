package dev.vacancy.internal.engine;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Permissions.Action;
import dev.vacancy.Selection;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.bulk.FailedRecord;
import dev.vacancy.internal.chunking.StoredBulkRun;
import java.util.List;
import java.util.UUID;

/** Bulk runs as far as somebody may start, see and steer them. */
record PermittedBulkRuns(BulkRuns runs, ActingUser acting) implements BulkRuns {
    @Override
    public BulkRun start(Approval approval, BulkOptions options) {
        acting.require(approval.plan());
        return runs.start(approval, options);
    }

    @Override
    public BulkRun start(Selection selection, By by, BulkOptions options) {
        acting.require(by);
        return runs.start(selection, by, options);
    }

    @Override
    public String exemption(UUID run) {
        return runs.exemption(permitted(run));
    }

    @Override
    public BulkRun work(UUID run, BulkOptions options, Exemption exemption, BulkListener listener) {
        return seen(runs.work(permitted(run), options, exemption, listener));
    }

    @Override
    public boolean workChunk(UUID run, BulkOptions options, Exemption exemption, BulkListener listener) {
        return runs.workChunk(permitted(run), options, exemption, listener);
    }

    private UUID permitted(UUID run) {
        acting.require(Action.DELETE_SEVERAL, runs.run(run).table());
        return run;
    }

    @Override
    public BulkRun run(UUID run) {
        return seen(runs.run(permitted(run)));
    }

    @Override
    public List<BulkRun> list() {
        return permitted(runs.list());
    }

    @Override
    public List<BulkRun> list(BulkState state) {
        return permitted(runs.list(state));
    }

    private List<BulkRun> permitted(List<BulkRun> all) {
        return all.stream()
                .filter(run -> acting.may(Action.DELETE_SEVERAL, run.table()))
                .map(this::seen)
                .toList();
    }

    private BulkRun seen(BulkRun run) {
        String selection = acting.sight().seen(run.selection(), run.table(), run.by());
        String name = run.name().equals(run.selection()) ? selection : run.name();
        return ((StoredBulkRun) run).named(name, selection);
    }

    @Override
    public List<FailedRecord> failures(UUID run, int most) {
        return runs.failures(permitted(run), most);
    }

    @Override
    public BulkRun pause(UUID run) {
        return seen(runs.pause(permitted(run)));
    }

    @Override
    public BulkRun resume(UUID run) {
        return seen(runs.resume(permitted(run)));
    }

    @Override
    public BulkRun cancel(UUID run) {
        return seen(runs.cancel(permitted(run)));
    }
}
