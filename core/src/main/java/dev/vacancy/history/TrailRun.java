package dev.vacancy.history;

import dev.vacancy.By;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * A run as the audit trail tells it.
 *
 * @param place its place in the chain of runs, from 1
 * @param runId its id
 * @param kind what it was: deletion, purge, restore, part restore, restoring (a portion of a restore), erasure, hold, standing
 *     hold, lift, ageing, upgrade of the tables, retirement of a column or table, drop of one, return of one
 * @param by who wanted it, and why
 * @param colleague who agreed besides
 * @param at when
 * @param table the table whose records were selected
 * @param selection which of them, in words
 * @param counts how many records of each table
 * @param partOf the bulk run that it was a chunk of, or the restore that it was a portion of
 * @param about the run that it undid, or the hold that it lifted
 * @param entries how many entries it has
 * @param digest what it bears in the chain, 64 hexadecimal digits
 * @since 0.1
 */
public record TrailRun(
        long place,
        UUID runId,
        String kind,
        By by,
        Optional<String> colleague,
        Instant at,
        String table,
        String selection,
        Map<String, Long> counts,
        Optional<UUID> partOf,
        Optional<UUID> about,
        long entries,
        String digest) {
    /** Keeps its own copy of the counts. */
    public TrailRun {
        counts = Collections.unmodifiableMap(new LinkedHashMap<>(counts));
    }

    /**
     * Says who it was.
     *
     * @return such as {@code odile}, or {@code odile and una} where a colleague has agreed
     */
    public String who() {
        return by.actor() + colleague.map(other -> " and " + other).orElse("");
    }

    /**
     * Says which records it was about.
     *
     * @return the selection in words; of a hold, and of the lifting of one, with its table
     */
    public String which() {
        boolean ofHold = isStanding() || kind.equals("hold") || kind.equals("lift");
        return ofHold ? table + " where " + selection : selection;
    }

    /**
     * Tells whether the run holds whatever comes to meet its criteria.
     *
     * @return true for a standing hold
     */
    public boolean isStanding() {
        return kind.equals("standing hold");
    }

    /**
     * Tells whether the run brought records back: all of another run, or a part or portion of it.
     *
     * @return true for a restore
     */
    public boolean isRestore() {
        return kind.endsWith("restore") || kind.equals("restoring");
    }
}
