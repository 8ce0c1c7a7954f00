package dev.vacancy.trace;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/**
 * A record, or an entry of the audit trail, with what it says of a person.
 *
 * @param relation what it has to do with the person
 * @param table its table
 * @param key its key, as the audit trail spells it; empty in a table without one
 * @param values what it says: the whole record where it is or belongs to the person, and what concerns the person where it only mentions them
 * @param run the run that an entry of the audit trail is of
 * @since 0.1
 */
public record TracedRecord(
        Relation relation,
        String table,
        Optional<String> key,
        Map<String, @Nullable Object> values,
        Optional<UUID> run) {
    /** Keeps its own copy of the values. */
    public TracedRecord {
        values = Collections.unmodifiableMap(new LinkedHashMap<>(values));
    }
}
