package dev.vacancy.schedule;

import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkRun;

/**
 * Is told what scheduled deletions come to, by the worker that it is given to.
 *
 * <p>It is called by the threads of the worker.
 *
 * @since 0.1
 */
public interface ScheduleListener extends BulkListener {
    @Override
    default void progressed(BulkRun run) {}

    /**
     * Takes a bulk run that a scheduled deletion has started.
     *
     * @param name the scheduled deletion's
     * @param run the run, on which workers begin now
     */
    default void started(String name, BulkRun run) {}

    /**
     * Is told that nothing was selected, or that the run before is still going on, paused or stopped.
     *
     * @param name the scheduled deletion's
     * @param reason which of them
     */
    default void leftOut(String name, String reason) {}

    /**
     * Is told that a deletion was refused, for instance because more records were selected than it may have. Nothing is
     * deleted until it is due again.
     *
     * @param name the scheduled deletion's
     * @param refusal why
     */
    default void refused(String name, RuntimeException refusal) {}
}
