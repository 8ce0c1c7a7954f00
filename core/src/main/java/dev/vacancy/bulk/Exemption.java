package dev.vacancy.bulk;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.RecordContent;
import java.sql.Connection;
import java.util.Optional;

/**
 * What the application's own code says of single records of a bulk run, just before they would go: which are kept, and why. It is part of
 * the run, by its name: the run is started with it, and a worker that hasn't got it can't go on.
 *
 * <pre>{@code
 * Exemption onLoan = Exemption.named("on loan", (hive, connection) -> loans.has(hive.key()) ? Optional.of("it is on loan") : Optional.empty());
 * runs.start(approval, BulkOptions.defaults().exempting(onLoan));
 * }</pre>
 *
 * <p>Workers of several threads may ask the same one at a time.
 *
 * @since 0.1
 */
public interface Exemption {
    /**
     * Returns the name by which runs and workers know it.
     *
     * @return the same in all processes; empty for none
     */
    String name();

    /**
     * Decides whether a record is kept.
     *
     * @param record the record, locked and as it is now
     * @param connection the chunk's own, to look something up; its transaction can't be ended by it
     * @return why it is kept; empty to let it go
     */
    Optional<String> reasonToKeep(RecordContent record, Connection connection);

    /**
     * Returns none: all selected records go.
     *
     * @return what most runs have
     */
    static Exemption none() {
        return new Named("", (record, connection) -> Optional.empty());
    }

    /**
     * Names what decides.
     *
     * @param name the name, not blank, at most 100 characters
     * @param test decides
     * @return both
     * @throws InvalidRequestException when the name is none
     */
    static Exemption named(String name, Test test) {
        if (name.isBlank() || name.length() > Named.LONGEST) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "'" + name + "' can't be the name of an exemption.",
                    "Give a name of 1 to " + Named.LONGEST + " characters.");
        }
        return new Named(name, test);
    }

    /** Decides whether a record is kept. */
    @FunctionalInterface
    interface Test {
        /**
         * Decides.
         *
         * @param record the record, locked and as it is now
         * @param connection the chunk's own
         * @return why it is kept; empty to let it go
         */
        Optional<String> reasonToKeep(RecordContent record, Connection connection);
    }
}
