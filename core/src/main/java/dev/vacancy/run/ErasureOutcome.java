package dev.vacancy.run;

/**
 * What came of removing a record for good together with its content in the audit trail.
 *
 * @param outcome the deletion
 * @param entries how many entries of the trail have lost their content, those of this deletion among them
 * @since 0.1
 */
public record ErasureOutcome(Outcome outcome, long entries) {}
