package dev.vacancy.internal.running;

import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.trail.Recorder;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import java.util.UUID;

/** Writes down the records of a run's steps. */
final class Recording {
    private final Recorder recorder;
    private final ColumnAssignments writing;
    private final UUID run;
    private final boolean purging;

    Recording(Recorder recorder, ColumnAssignments writing, UUID run, boolean purging) {
        this.recorder = recorder;
        this.writing = writing;
        this.run = run;
        this.purging = purging;
    }

    /** How the database writes them down; empty where it can't. */
    Optional<Fragment> statement(Step step, int number, Fragment from) {
        return recorder.statement(heading(step, number), step.table(), from);
    }

    /** How it deletes them and writes them down at once; empty where it can't. */
    Optional<Fragment> deleting(Step step, int number, Fragment deletion) {
        return recorder.statementDeleting(heading(step, number), step.table(), deletion);
    }

    /** Writes them down here. */
    long record(Step step, int number, Fragment from, Connection connection) throws SQLException {
        return recorder.record(heading(step, number), step.table(), from, connection);
    }

    private Recorder.Heading heading(Step step, int number) {
        return new Recorder.Heading(
                run, number, StepAction.of(step, purging), step.table().name(), writing.altered(step));
    }
}
