package dev.vacancy.bulk;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.internal.request.GivenBulkOptions;
import java.time.Duration;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * How a large deletion is cut into chunks.
 *
 * @since 0.1
 */
public sealed interface BulkOptions permits GivenBulkOptions {
    /** {@return what people call the run; the selection in words if empty} */
    Optional<String> name();

    /**
     * {@return how many selected records go in one transaction, 1 to {@value Plan#MOST_ROOTS}; if empty, as many as take about {@code
     * targetDuration}}
     */
    OptionalInt chunk();

    /** {@return how long a transaction should take} */
    Duration targetDuration();

    /**
     * {@return how many records may go in one transaction, those below the selected ones among them; a selected record with more below
     * it goes from the leaves up, itself last}
     */
    long maxPerTransaction();

    /** {@return how long to wait between two chunks} */
    Duration pause();

    /** {@return by how many records the selection may have grown or shrunk since it was approved} */
    long tolerance();

    /** {@return whether to stop at the first record that can't be deleted, instead of noting it and going on} */
    boolean stopAtFailure();

    /** {@return which records are kept by the application's own code, when the run is started; a worker is given it by itself} */
    Exemption exemption();

    /**
     * {@return whether records go that were selected when the run began and have stopped matching its criteria since; otherwise they
     * are left and told}
     */
    boolean asSelected();

    /**
     * Returns what holds if nothing else was said: chunks of about half a second, without a pause, going on at failures.
     *
     * @return the usual options
     */
    static BulkOptions defaults() {
        return new GivenBulkOptions(
                Optional.empty(),
                OptionalInt.empty(),
                GivenBulkOptions.USUAL_TARGET,
                GivenBulkOptions.USUAL_LARGEST,
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
    default BulkOptions named(String text) {
        return GivenBulkOptions.changed(this, options -> options.name = Optional.of(text));
    }

    /**
     * Sets the number of selected records that go in one transaction.
     *
     * @param records 1 to {@value Plan#MOST_ROOTS}
     * @return the options with that
     * @throws InvalidRequestException when it is less than 1 or more than a plan can have
     */
    default BulkOptions chunk(int records) {
        return GivenBulkOptions.changed(this, options -> options.chunk = OptionalInt.of(records));
    }

    /**
     * Sets how long a transaction should take.
     *
     * @param time above zero
     * @return the options with that
     * @throws InvalidRequestException when it isn't positive
     */
    default BulkOptions targetDuration(Duration time) {
        return GivenBulkOptions.changed(this, options -> options.targetDuration = time);
    }

    /**
     * Sets how many records may go in one transaction, those below the selected ones among them.
     *
     * @param records 1 or more
     * @return the options with that
     * @throws InvalidRequestException when it is less than 1
     */
    default BulkOptions maxPerTransaction(long records) {
        return GivenBulkOptions.changed(this, options -> options.maxPerTransaction = records);
    }

    /**
     * Sets how long to wait between two chunks.
     *
     * @param time zero or more
     * @return the options with that
     * @throws InvalidRequestException when it is negative
     */
    default BulkOptions pause(Duration time) {
        return GivenBulkOptions.changed(this, options -> options.pause = time);
    }

    /**
     * Lets the selection grow or shrink between its approval and the start.
     *
     * @param records by how many records, 0 or more
     * @return the options with that
     * @throws InvalidRequestException when it is negative
     */
    default BulkOptions tolerating(long records) {
        return GivenBulkOptions.changed(this, options -> options.tolerance = records);
    }

    /**
     * Stops at the first record that can't be deleted.
     *
     * @return the options with that
     */
    default BulkOptions stoppingAtFailure() {
        return GivenBulkOptions.changed(this, options -> options.stopAtFailure = true);
    }

    /**
     * Starts the run with an exemption, without which no worker can go on.
     *
     * @param which records are kept, by the application's own code
     * @return the options with that
     */
    default BulkOptions exempting(Exemption which) {
        return GivenBulkOptions.changed(this, options -> options.exemption = which);
    }

    /**
     * Deletes what was selected when the run began, even what has stopped matching its criteria since.
     *
     * @return the options with that
     */
    default BulkOptions deletingAsSelected() {
        return GivenBulkOptions.changed(this, options -> options.asSelected = true);
    }
}
