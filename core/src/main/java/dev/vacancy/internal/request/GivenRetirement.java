package dev.vacancy.internal.request;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.retirement.Retirement;
import java.time.Period;
import java.util.HashSet;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * The wish to retire a column or a table.
 *
 * @since 0.1
 */
public record GivenRetirement(String table, Optional<String> column, Set<String> along, Period retention)
        implements Retirement {
    /** Keeps its own copy of the names. */
    public GivenRetirement {
        along = Set.copyOf(along);
    }

    @Override
    public Retirement along(String... names) {
        Set<String> more = new HashSet<>(along);
        for (String name : names) {
            more.add(name.toLowerCase(Locale.ROOT));
        }
        return new GivenRetirement(table, column, more, retention);
    }

    @Override
    public Retirement keptFor(Period given) {
        if (given.isNegative()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "A retention of " + given + " is negative.",
                    "Give how long it is to stay set aside, such as P30D.");
        }
        return new GivenRetirement(table, column, along, given);
    }
}
