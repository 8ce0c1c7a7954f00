package dev.vacancy.bulk;

import dev.vacancy.catalog.RecordContent;
import java.util.List;

/**
 * Is told how a bulk run goes on, by the worker that it is given to. What it throws ends that worker, and nothing that is
 * committed.
 *
 * <p>It is called by whoever works on the run, in turn.
 *
 * @since 0.1
 */
@FunctionalInterface
public interface BulkListener {
    /**
     * Takes the state of the run after a chunk.
     *
     * @param run the run, with what other workers have done
     */
    void progressed(BulkRun run);

    /**
     * Takes the selected records of a chunk, whole, as they were, after it has been committed. Should the process die in
     * between, they are deleted and nobody is told.
     *
     * @param records at most {@link dev.vacancy.Plan#MOST_ROOTS}
     */
    default void deleted(List<RecordContent> records) {}

    /**
     * Takes the run when it is done. Of all workers exactly one is told: the one that found nothing left to do.
     *
     * @param run the run, done
     */
    default void ended(BulkRun run) {}
}
