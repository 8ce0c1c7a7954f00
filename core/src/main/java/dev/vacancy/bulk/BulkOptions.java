package dev.vacancy.bulk;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import java.time.Duration;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * How a large deletion is cut into chunks.
 *
 * @param name what people call the run; the selection in words if empty
 * @param chunk how many selected records go in one transaction, 1 to {@value Plan#MOST_ROOTS}; if empty, as many as take about
 *     {@code targetDuration}
 * @param targetDuration how long a transaction should take
 * @param maxPerTransaction how many records may go in one transaction, those below the selected ones among them; a selected record with
 *     more below it goes from the leaves up, itself last
 * @param pause how long to wait between two chunks
 * @param tolerance by how many records the selection may have grown or shrunk since it was approved
 * @param stopAtFailure whether to stop at the first record that can't be deleted, instead of noting it and going on
 * @param exemption which records are kept by the application's own code, when the run is started; a worker is given it by itself
 * @param asSelected whether records go that were selected when the run began and have stopped matching its criteria since; otherwise they are
 *     left and told
 * @since 0.1
 */
public record BulkOptions(
        Optional<String> name,
        OptionalInt chunk,
        Duration targetDuration,
        long maxPerTransaction,
        Duration pause,
        long tolerance,
        boolean stopAtFailure,
        Exemption exemption,
        boolean asSelected) {
    private static final Duration USUAL_TARGET = Duration.ofMillis(500);
    private static final long USUAL_LARGEST = 20_000;

    /** Refuses what makes no sense. */
    public BulkOptions {
        if (chunk.isPresent() && (chunk.getAsInt() < 1 || chunk.getAsInt() > Plan.MOST_ROOTS)) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "A chunk can't have " + chunk.getAsInt() + " records.",
                    "Take 1 to " + Plan.MOST_ROOTS + ".");
        }
        if (targetDuration.isNegative()
                || targetDuration.isZero()
                || pause.isNegative()
                || tolerance < 0
                || maxPerTransaction < 1) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "A bulk run can't aim at " + targetDuration + ", pause for " + pause + " or tolerate " + tolerance
                            + " records.",
                    "Give a targetDuration above zero, and no negative numbers.");
        }
    }

    /**
     * Returns what holds if nothing else was said: chunks of about half a second, without a pause, going on at failures.
     *
     * @return the usual options
     */
    public static BulkOptions defaults() {
        return new BulkOptions(
                Optional.empty(),
                OptionalInt.empty(),
                USUAL_TARGET,
                USUAL_LARGEST,
                Duration.ZERO,
                0,
                false,
                Exemption.none(),
                false);
    }

    /**
     * Names the run.
     *
     * @param text what people call it
     * @return the options with that
     */
    public BulkOptions named(String text) {
        return new BulkOptions(
                Optional.of(text),
                chunk,
                targetDuration,
                maxPerTransaction,
                pause,
                tolerance,
                stopAtFailure,
                exemption,
                asSelected);
    }

    /**
     * Sets the number of selected records that go in one transaction.
     *
     * @param records 1 to {@value Plan#MOST_ROOTS}
     * @return the options with that
     */
    public BulkOptions chunk(int records) {
        return new BulkOptions(
                name,
                OptionalInt.of(records),
                targetDuration,
                maxPerTransaction,
                pause,
                tolerance,
                stopAtFailure,
                exemption,
                asSelected);
    }

    /**
     * Sets how long a transaction should take.
     *
     * @param time above zero
     * @return the options with that
     */
    public BulkOptions targetDuration(Duration time) {
        return new BulkOptions(
                name, chunk, time, maxPerTransaction, pause, tolerance, stopAtFailure, exemption, asSelected);
    }

    /**
     * Sets how many records may go in one transaction, those below the selected ones among them.
     *
     * @param records 1 or more
     * @return the options with that
     */
    public BulkOptions maxPerTransaction(long records) {
        return new BulkOptions(
                name, chunk, targetDuration, records, pause, tolerance, stopAtFailure, exemption, asSelected);
    }

    /**
     * Sets how long to wait between two chunks.
     *
     * @param time zero or more
     * @return the options with that
     */
    public BulkOptions pause(Duration time) {
        return new BulkOptions(
                name, chunk, targetDuration, maxPerTransaction, time, tolerance, stopAtFailure, exemption, asSelected);
    }

    /**
     * Lets the selection grow or shrink between its approval and the start.
     *
     * @param records by how many records, 0 or more
     * @return the options with that
     */
    public BulkOptions tolerating(long records) {
        return new BulkOptions(
                name, chunk, targetDuration, maxPerTransaction, pause, records, stopAtFailure, exemption, asSelected);
    }

    /**
     * Stops at the first record that can't be deleted.
     *
     * @return the options with that
     */
    public BulkOptions stoppingAtFailure() {
        return new BulkOptions(
                name, chunk, targetDuration, maxPerTransaction, pause, tolerance, true, exemption, asSelected);
    }

    /**
     * Starts the run with an exemption, without which no worker can go on.
     *
     * @param which records are kept, by the application's own code
     * @return the options with that
     */
    public BulkOptions exempting(Exemption which) {
        return new BulkOptions(
                name, chunk, targetDuration, maxPerTransaction, pause, tolerance, stopAtFailure, which, asSelected);
    }

    /**
     * Deletes what was selected when the run began, even what has stopped matching its criteria since.
     *
     * @return the options with that
     */
    public BulkOptions deletingAsSelected() {
        return new BulkOptions(
                name, chunk, targetDuration, maxPerTransaction, pause, tolerance, stopAtFailure, exemption, true);
    }
}
