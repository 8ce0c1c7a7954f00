package dev.vacancy;

import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Criteria;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.rule.Rules;
import java.time.Clock;

/** Which soft-deleted records are past their retention. */
final class Expired {
    private Expired() {}

    static Selection of(Table table, Rules rules, Clock clock) {
        Criteria over = rules.pastRetention(table, clock)
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.RULES,
                        "Nothing says how long deleted records of " + table + " are kept.",
                        "Give the table a retention, such as 'retention: P15D'."));
        return Selection.of(table.name()).where(over).purging();
    }
}
