package dev.vacancy.internal.store;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Table;

/**
 * Refuses what the database's user may not do, before the database does.
 *
 * @since 0.1
 */
public final class MissingRight {
    private MissingRight() {}

    /**
     * Says which right is missing.
     *
     * @param attempt what the user may not do, such as {@code delete from}
     * @param right what would have to be granted, such as {@code delete on}
     * @param table the table
     * @return the refusal
     */
    public static InvalidRequestException of(String attempt, String right, Table table) {
        return new InvalidRequestException(
                        FailureCode.MISSING_RIGHT,
                        "The database's user may not " + attempt + " " + table + ", which this deletion needs.",
                        "Grant that user " + right + " " + table + ", or use another one.")
                .about("table", table);
    }
}
