package dev.vacancy.retirement;

import static java.util.Objects.requireNonNull;

import dev.vacancy.internal.request.GivenRetirement;
import java.time.Period;
import java.util.Optional;
import java.util.Set;

/**
 * The wish to retire a column or a table that isn't needed any more. It goes in two steps: it is set aside first, renamed so that whatever
 * still uses it fails and can have it back in a moment, and dropped when its retention is over.
 *
 * <pre>{@code
 * RetirementPlan plan = vacancy.plan(Retirement.ofColumn("hive", "wood").keptFor(Period.ofDays(60)), By.user("odile"));
 * Approval approval = Question.about(plan).answer("hive.wood").orElseThrow();
 * RetirementOutcome outcome = vacancy.retire(approval);                                       // set aside
 *
 * Retirements all = vacancy.retirements();
 * vacancy.retire(Question.about(all.planReturn(outcome.id(), by)).answer("yes").orElseThrow());   // and back
 * }</pre>
 *
 * <p>It is immutable.
 *
 * @since 0.1
 */
public sealed interface Retirement permits GivenRetirement {
    /** How long something stays set aside unless it is said otherwise. */
    Period DEFAULT_RETENTION = Period.ofDays(30);

    /** {@return the table, or that of the column} */
    String table();

    /** {@return the column; empty if the whole table goes} */
    Optional<String> column();

    /** {@return what goes along, by name, in small letters} */
    Set<String> along();

    /** {@return how long it stays set aside before it may be dropped} */
    Period retention();

    /**
     * Wishes to retire a table.
     *
     * @param table its name, as people write it
     * @return the wish
     */
    static Retirement ofTable(String table) {
        return new GivenRetirement(requireNonNull(table, "table"), Optional.empty(), Set.of(), DEFAULT_RETENTION);
    }

    /**
     * Wishes to retire a column.
     *
     * @param table the name of its table, as people write it
     * @param column its name
     * @return the wish
     */
    static Retirement ofColumn(String table, String column) {
        return new GivenRetirement(
                requireNonNull(table, "table"),
                Optional.of(requireNonNull(column, "column")),
                Set.of(),
                DEFAULT_RETENTION);
    }

    /**
     * Lets go along what would stand in the way: foreign keys of other tables, such as {@code photo.hive_id}, views and triggers by their
     * names. They come back with it. A routine that is named stays as it is, and fails for as long.
     *
     * @param names the names that the plan gives, in any case of letters
     * @return the larger wish
     */
    Retirement along(String... names);

    /**
     * Says how long it stays set aside before it may be dropped.
     *
     * @param retention a time, not negative
     * @return the wish with that
     * @throws dev.vacancy.InvalidRequestException when it is negative
     */
    Retirement keptFor(Period retention);
}
