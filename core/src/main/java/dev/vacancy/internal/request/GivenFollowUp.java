package dev.vacancy.internal.request;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.rule.FollowUp;
import java.util.List;
import java.util.regex.Pattern;

/** What an application has given as {@link FollowUp}. */
public record GivenFollowUp(String name, List<String> columnNames) implements FollowUp {
    private static final Pattern NAME = Pattern.compile("[A-Za-z0-9_-]{1,60}");

    /** Keeps its own copy of the list. */
    public GivenFollowUp {
        if (!NAME.matcher(name).matches()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "A follow-up can't be called '" + name + "'.",
                    "Use letters, digits, hyphens and underscores, 60 at most.");
        }
        columnNames = List.copyOf(columnNames);
    }
}
