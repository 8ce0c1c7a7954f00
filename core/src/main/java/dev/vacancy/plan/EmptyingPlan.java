package dev.vacancy.plan;

import dev.vacancy.catalog.Table;
import java.time.Instant;
import java.util.List;

/**
 * What emptying a table would do.
 *
 * @param emptying what was asked for
 * @param by who wants it, and why
 * @param madeAt when this was worked out
 * @param table the table
 * @param records how many records it has
 * @param way how the database would empty it
 * @param passedOver the triggers that would not be told, by name
 * @param fingerprint digest of the table, the way, and the number of records with the lowest and the highest key
 * @since 0.1
 */
public record EmptyingPlan(
        Emptying emptying,
        By by,
        Instant madeAt,
        Table table,
        long records,
        Way way,
        List<String> passedOver,
        String fingerprint) {
    /** Keeps its own copy of the names. */
    public EmptyingPlan {
        passedOver = List.copyOf(passedOver);
    }

    /** How a database empties a table. */
    public enum Way {
        /** All of it is dropped at once, by TRUNCATE (ISO/IEC 9075-2, section 14.10), as part of the transaction. */
        TRUNCATE,
        /** One statement deletes all records. */
        DELETE
    }
}
