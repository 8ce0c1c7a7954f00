package dev.vacancy.history;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.request.GivenHistoryQuery;
import dev.vacancy.internal.request.Most;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/**
 * What is asked of the audit trail. What isn't named isn't asked for.
 *
 * @since 0.1
 */
public sealed interface HistoryQuery permits GivenHistoryQuery {
    /** {@return only records of this table} */
    Optional<String> table();

    /** {@return only the record with this key, as text} */
    Optional<String> key();

    /** {@return only this run, or what was a part of this bulk run} */
    Optional<UUID> run();

    /** {@return only what this person or program wanted} */
    Optional<String> actor();

    /** {@return not before this moment} */
    Optional<Instant> from();

    /** {@return before this moment} */
    Optional<Instant> until();

    /** {@return how many entries at most, the newest ones} */
    int most();

    /** {@return how many of the newest ones are left out, since they were told before} */
    int skipped();

    /**
     * Asks for all there is, up to the newest thousand.
     *
     * @return the query
     */
    static HistoryQuery all() {
        return new GivenHistoryQuery(
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                GivenHistoryQuery.USUAL,
                0);
    }

    /**
     * Asks for the records of one table.
     *
     * @param name the table
     * @return the narrower query
     */
    default HistoryQuery ofTable(String name) {
        return new GivenHistoryQuery(Optional.of(name), key(), run(), actor(), from(), until(), most(), skipped());
    }

    /**
     * Asks for one record.
     *
     * @param name its table
     * @param keyText its key as text, the values of several columns with commas between them, and a backslash before each comma or
     *     backslash in one of those
     * @return the narrower query
     */
    default HistoryQuery ofRecord(String name, String keyText) {
        return new GivenHistoryQuery(
                Optional.of(name), Optional.of(keyText), run(), actor(), from(), until(), most(), skipped());
    }

    /**
     * Asks for one run.
     *
     * @param id its id, or that of a bulk run
     * @return the narrower query
     */
    default HistoryQuery ofRun(UUID id) {
        return new GivenHistoryQuery(table(), key(), Optional.of(id), actor(), from(), until(), most(), skipped());
    }

    /**
     * Asks for what somebody wanted.
     *
     * @param name the person or program
     * @return the narrower query
     */
    default HistoryQuery by(String name) {
        return new GivenHistoryQuery(table(), key(), run(), Optional.of(name), from(), until(), most(), skipped());
    }

    /**
     * Asks for a period.
     *
     * @param first its beginning
     * @param end its end, not a part of it
     * @return the narrower query
     */
    default HistoryQuery between(Instant first, Instant end) {
        return new GivenHistoryQuery(
                table(), key(), run(), actor(), Optional.of(first), Optional.of(end), most(), skipped());
    }

    /**
     * Asks for no more than some entries.
     *
     * @param number how many, at least 1
     * @return the shorter query
     * @throws InvalidRequestException when it is less than 1
     */
    default HistoryQuery atMost(int number) {
        Most.require(number);
        return new GivenHistoryQuery(table(), key(), run(), actor(), from(), until(), number, skipped());
    }

    /**
     * Leaves out what was told before, to go on from there.
     *
     * @param number how many entries, 0 or more
     * @return the query for those that follow
     * @throws InvalidRequestException when it is negative
     */
    default HistoryQuery skipping(int number) {
        if (number < 0) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, "Less than nothing, " + number + ", can't be left out.", "Give 0 or more.");
        }
        return new GivenHistoryQuery(table(), key(), run(), actor(), from(), until(), most(), number);
    }
}
