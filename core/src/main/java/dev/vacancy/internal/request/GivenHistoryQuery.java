package dev.vacancy.internal.request;

import dev.vacancy.history.HistoryQuery;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/** What an application has given as {@link HistoryQuery}. */
public record GivenHistoryQuery(
        Optional<String> table,
        Optional<String> key,
        Optional<UUID> run,
        Optional<String> actor,
        Optional<Instant> from,
        Optional<Instant> until,
        int most,
        int skipped)
        implements HistoryQuery {
    public static final int USUAL = 1_000;
}
