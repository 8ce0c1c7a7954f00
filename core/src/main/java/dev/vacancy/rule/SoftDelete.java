package dev.vacancy.rule;

import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.request.GivenSoftDelete;
import java.time.Period;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * That the records of a table are marked when they are deleted, and stay: what is written beside the marker, which of them go
 * for good all the same, and for how long the others are kept.
 *
 * <pre>{@code
 * RuleBook.bySchema()
 *     .marker("keeper", Marker.timestamp("left_at"))
 *     .soft("keeper", SoftDelete.defaults()
 *         .deletedBy("left_by", "left_because")
 *         .hardWhere("joined_on is null")
 *         .keptFor(Period.ofDays(15)))
 * }</pre>
 *
 * @since 0.1
 */
public sealed interface SoftDelete permits GivenSoftDelete {
    /** {@return which records go for good instead; empty for none} */
    Optional<Criteria> hard();

    /** {@return the column that takes the actor's name, or empty} */
    Optional<String> actorColumn();

    /** {@return the column that takes the time, or empty; the marker itself may say it} */
    Optional<String> timeColumn();

    /** {@return the column that takes the reason, or empty} */
    Optional<String> reasonColumn();

    /** {@return for how long a soft-deleted record is kept before it may be purged; empty for always} */
    Optional<Period> retention();

    /** {@return what no two active records have in common, as lists of columns} */
    List<List<String>> unique();

    /**
     * Marks records and nothing else.
     *
     * @return soft deletion of all records, without stamps, kept for always
     */
    static SoftDelete defaults() {
        return new GivenSoftDelete(
                Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), List.of());
    }

    /**
     * Says which records go for good all the same.
     *
     * @param criteria picks them, as {@link Criteria#parse} reads it
     * @return the rule with that exception
     */
    default SoftDelete hardWhere(String criteria) {
        return new GivenSoftDelete(
                Optional.of(Criteria.parse(criteria)),
                actorColumn(),
                timeColumn(),
                reasonColumn(),
                retention(),
                unique());
    }

    /**
     * Writes on the record who deleted it, and why.
     *
     * @param actor the column for the actor's name
     * @param reason the column for the reason
     * @return the rule with these stamps
     */
    default SoftDelete deletedBy(String actor, String reason) {
        return new GivenSoftDelete(
                hard(), Optional.of(actor), timeColumn(), Optional.of(reason), retention(), unique());
    }

    /**
     * Writes on the record who deleted it.
     *
     * @param actor the column for the actor's name
     * @return the rule with that stamp
     */
    default SoftDelete deletedBy(String actor) {
        return new GivenSoftDelete(hard(), Optional.of(actor), timeColumn(), reasonColumn(), retention(), unique());
    }

    /**
     * Writes on the record when it was deleted, where the marker doesn't say it.
     *
     * @param column the column for the time
     * @return the rule with that stamp
     */
    default SoftDelete deletedAt(String column) {
        return new GivenSoftDelete(hard(), actorColumn(), Optional.of(column), reasonColumn(), retention(), unique());
    }

    /**
     * Writes on the record why it was deleted.
     *
     * @param column the column for the reason
     * @return the rule with that stamp
     */
    default SoftDelete deletedBecause(String column) {
        return new GivenSoftDelete(hard(), actorColumn(), timeColumn(), Optional.of(column), retention(), unique());
    }

    /**
     * Says how long a soft-deleted record is kept.
     *
     * @param time after which it may be purged
     * @return the rule with that retention
     * @throws InvalidRequestException when it is negative
     */
    default SoftDelete keptFor(Period time) {
        return new GivenSoftDelete(hard(), actorColumn(), timeColumn(), reasonColumn(), Optional.of(time), unique());
    }

    /**
     * Says what no two active records have in common, though a deleted one may: an e-mail address, a number.
     *
     * @param columns one column, or several that are unique together
     * @return the rule with that constraint
     */
    default SoftDelete uniqueWhileActive(String... columns) {
        List<List<String>> all = new ArrayList<>(unique());
        all.add(List.of(columns));
        return new GivenSoftDelete(hard(), actorColumn(), timeColumn(), reasonColumn(), retention(), all);
    }
}
