package dev.vacancy.followup;

import dev.vacancy.By;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * What happened to one record, for somebody outside of the database.
 *
 * @param id the same each time that it is handed over, so that a repeat can be recognised
 * @param followUp the name of the follow-up
 * @param action what happened to the record
 * @param table the record's table
 * @param key its key, as the audit trail spells it; empty of a table without one
 * @param before the columns that are handed over, as they were, in the types that they have; empty where the record came back, or where the trail had lost them
 * @param after the columns as they are now; empty where the record is gone
 * @param run the run's id
 * @param by who wanted it, and why
 * @param at when it happened
 * @param state whether it is open or has failed
 * @param attempts how often it was handed over before
 * @param dueAt when it is handed over next
 * @param failure why it was not handled the last time
 * @since 0.1
 */
public record FollowUpMessage(
        UUID id,
        String followUp,
        FollowUpAction action,
        String table,
        Optional<String> key,
        Optional<Map<String, Object>> before,
        Optional<Map<String, Object>> after,
        UUID run,
        By by,
        Instant at,
        FollowUpState state,
        int attempts,
        Instant dueAt,
        Optional<String> failure) {
    /** Keeps its own copies of the maps. */
    public FollowUpMessage {
        before = before.map(values -> Collections.unmodifiableMap(new LinkedHashMap<>(values)));
        after = after.map(values -> Collections.unmodifiableMap(new LinkedHashMap<>(values)));
    }

    /**
     * Returns the columns as they are, or were last.
     *
     * @return the values after, or else before; empty where neither is known
     */
    public Map<String, Object> values() {
        return after.or(() -> before).orElse(Map.of());
    }
}
