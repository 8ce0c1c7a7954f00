package dev.vacancy.internal.engine;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.rules.Rules;
import java.time.Clock;

/** Which soft-deleted records are past their retention. */
final class RetentionSelection {
    private RetentionSelection() {}

    static Selection of(Table table, Rules rules, Clock clock) {
        Criteria over = rules.pastRetention(table, clock)
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.RULES,
                        "Nothing says how long deleted records of " + table + " are kept.",
                        "Give the table a retention, such as 'retention: P15D'."));
        return Selection.of(table.name()).where(over).purging();
    }
}
