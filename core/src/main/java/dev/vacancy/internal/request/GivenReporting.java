package dev.vacancy.internal.request;

import dev.vacancy.Reporting;
import dev.vacancy.catalog.RecordContent;
import java.sql.Connection;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiConsumer;

/** What an application has given as {@link Reporting}. */
public record GivenReporting(Optional<BiConsumer<RecordContent, Connection>> records, Set<String> keysOf)
        implements Reporting {
    /** Keeps its own copy of the names. */
    public GivenReporting {
        keysOf = Set.copyOf(keysOf);
    }
}
