package dev.vacancy;

import dev.vacancy.catalog.Table;
import dev.vacancy.internal.planning.PlannedEmptying;
import dev.vacancy.rule.Consent;
import dev.vacancy.wording.Wording;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/**
 * What emptying a table would do.
 *
 * @since 0.1
 */
public sealed interface EmptyingPlan extends Proposal permits PlannedEmptying {
    /** {@return what was asked for} */
    Emptying emptying();

    /** {@return who wants it, and why} */
    @Override
    By by();

    /** {@return when this was worked out} */
    @Override
    Instant madeAt();

    /** {@return the table} */
    Table table();

    /** {@return how many records it has} */
    long records();

    /** {@return how the database would empty it} */
    Way way();

    /** {@return the triggers that would not be told, by name} */
    List<String> passedOver();

    /** {@return digest of the table, the way, and the number of records with the lowest and the highest key} */
    @Override
    String fingerprint();

    @Override
    default Map<String, Long> counts() {
        return records() == 0 ? Map.of() : Map.of(table().name(), records());
    }

    /** {@return the number of the records, always} */
    @Override
    default Consent consent() {
        return Consent.NUMBER;
    }

    /** {@return whether some of the records are held} */
    /** {@return the holds on its records; while there are any it can't be approved} */
    List<Held> holds();

    @Override
    default boolean isBlocked() {
        return !holds().isEmpty();
    }

    @Override
    default void refuseBlocked() {
        if (isBlocked()) {
            throw new BlockedException(this);
        }
    }

    @Override
    default String subject() {
        return table().name();
    }

    @Override
    default String question(Wording words) {
        return words.text(
                passedOver().isEmpty() ? "empty" : "empty.passing-over",
                table().name(),
                records(),
                String.join(", ", passedOver()));
    }

    /** How a database empties a table. */
    enum Way {
        /** All of it is dropped at once, by TRUNCATE (ISO/IEC 9075-2, section 14.10), as part of the transaction. */
        TRUNCATE,
        /** One statement deletes all records. */
        DELETE
    }
}
