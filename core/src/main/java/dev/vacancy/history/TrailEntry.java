package dev.vacancy.history;

import dev.vacancy.By;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * What happened to one record in one run.
 *
 * @param run the run's id
 * @param step the step of the run, from 1
 * @param place its number in that step, from 1
 * @param action what happened: deleted, purged, marked, detached, reassigned, reset, touched, restored, erased, masked, aged
 * @param table the record's table
 * @param key its key, as text
 * @param by who wanted it, and why
 * @param colleague who agreed besides
 * @param at when
 * @param before the record before that: numbers and truth values as such, all else as the database writes it; empty once its
 *     content was erased
 * @param after what columns were set to; empty if the record went
 * @since 0.1
 */
public record TrailEntry(
        UUID run,
        int step,
        long place,
        String action,
        String table,
        String key,
        By by,
        Optional<String> colleague,
        Instant at,
        Optional<Map<String, Object>> before,
        Optional<Map<String, Object>> after) {
    /** Keeps its own copies of the maps. */
    public TrailEntry {
        before = before.map(values -> Collections.unmodifiableMap(new LinkedHashMap<>(values)));
        after = after.map(values -> Collections.unmodifiableMap(new LinkedHashMap<>(values)));
    }

    /**
     * Says who it was.
     *
     * @return such as {@code odile}, or {@code odile and una} where a colleague has agreed
     */
    public String who() {
        return by.actor() + colleague.map(other -> " and " + other).orElse("");
    }
}
