package dev.vacancy.bulk;

import dev.vacancy.catalog.RecordContent;
import java.util.Optional;

/**
 * What the application's own code says of each record of a bulk run, just before it would go.
 *
 * @since 0.1
 */
@FunctionalInterface
public interface Decision {
    /**
     * Decides whether a record is kept.
     *
     * @param record the record, locked and as it is now
     * @return why it is kept; empty to let it go
     */
    Optional<String> reasonToKeep(RecordContent record);
}
