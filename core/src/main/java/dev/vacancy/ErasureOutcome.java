package dev.vacancy;

import dev.vacancy.internal.running.CompletedErasure;

/**
 * What came of removing a record for good together with its content in the audit trail.
 *
 * @since 0.1
 */
public sealed interface ErasureOutcome permits CompletedErasure {
    /** {@return the deletion} */
    Outcome outcome();

    /** {@return how many entries of the trail have lost their content, those of this deletion among them} */
    long entries();
}
