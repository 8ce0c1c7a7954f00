package dev.vacancy.internal.request;

import dev.vacancy.rule.Trail;
import java.util.List;
import java.util.Optional;

/** What an application has given as {@link Trail}. */
public record GivenTrail(Optional<String> schema, String runs, String entries, List<String> withheld) implements Trail {
    /** Keeps its own copy of the list. */
    public GivenTrail {
        withheld = List.copyOf(withheld);
    }
}
