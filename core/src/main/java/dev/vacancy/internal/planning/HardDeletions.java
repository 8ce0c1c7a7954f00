package dev.vacancy.internal.planning;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.rule.SoftDelete;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Which of the records of a soft table go for good all the same. */
final class HardDeletions {
    private final Rules rules;
    private final RecordStore store;
    private final Clock clock;

    HardDeletions(Rules rules, RecordStore store, Clock clock) {
        this.rules = rules;
        this.store = store;
        this.clock = clock;
    }

    /**
     * Tells whether the selected records go for good by the rule of their table.
     *
     * @throws InvalidRequestException when some do and some don't
     */
    boolean decides(SelectedRecords selection) {
        Table table = selection.table();
        Optional<Criteria> exception =
                Optional.ofNullable(rules.softness().tables().get(table)).flatMap(SoftDelete::hard);
        if (exception.isEmpty()) {
            return false;
        }
        Condition picked = selection.picked().condition();
        Condition exceptional = Resolution.of(exception.get(), table, rules.catalog(), clock);
        Condition active = Resolution.of(rules.active(table).orElseThrow(), table, rules.catalog(), clock);
        long hard = store.count(table, new Condition.AllOf(List.of(picked, active, exceptional)));
        long all = hard == 0 ? 0 : store.count(table, new Condition.AllOf(List.of(picked, active)));
        if (hard < all) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    String.format(
                            Locale.ROOT,
                            "Of the %,d selected records of %s %,d go for good, as %s, and the others are only marked.",
                            all,
                            table,
                            hard,
                            exception.get()),
                    "Delete the two apart.");
        }
        return hard > 0;
    }
}
