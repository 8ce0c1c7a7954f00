package dev.vacancy.internal.request;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.rule.SoftDelete;
import java.time.Period;
import java.util.List;
import java.util.Optional;

/** What an application has given as {@link SoftDelete}. */
public record GivenSoftDelete(
        Optional<Criteria> hard,
        Optional<String> actorColumn,
        Optional<String> timeColumn,
        Optional<String> reasonColumn,
        Optional<Period> retention,
        List<List<String>> unique)
        implements SoftDelete {
    /** Keeps its own copy of the lists. */
    public GivenSoftDelete {
        unique = unique.stream().map(List::copyOf).toList();
        if (retention.filter(Period::isNegative).isPresent()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "Records can't be kept for " + retention.get() + ".",
                    "Give a retention of zero or more, such as P90D.");
        }
    }
}
