package dev.vacancy.internal.planning;

import dev.vacancy.Selection;
import dev.vacancy.catalog.RecordContent;

/**
 * Looks at each selected record while a deletion is planned, however many there are.
 *
 * @since 0.1
 */
@FunctionalInterface
public interface RecordObserver {
    /** Lets everything pass. */
    RecordObserver NOBODY = (selection, record, toRun) -> {};

    /**
     * Looks at a record.
     *
     * @param selection what was asked for
     * @param record the record
     * @param toRun whether it is locked, to go; or else shown
     * @throws dev.vacancy.InvalidRequestException when it must not be
     */
    void look(Selection selection, RecordContent record, boolean toRun);
}
