package dev.vacancy.internal.trail;

import dev.vacancy.history.HistoryQuery;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/**
 * Which runs of a trail are looked for.
 *
 * @param run the id of the run, or of what it is part of
 * @param actor who wanted it
 * @param about the run that they undid, or the hold that they lifted
 * @param from the first moment
 * @param until the moment after the last
 * @param table the name of the table whose records were selected
 * @param untold the names of tables that runs must not have been about
 * @param entries what they must have entries of
 * @param newestFirst whether the last one comes first
 * @param most how many at most
 * @param skipped how many come before them
 * @since 0.1
 */
public record RunsAsked(
        Optional<UUID> run,
        Optional<String> actor,
        Optional<UUID> about,
        Optional<Instant> from,
        Optional<Instant> until,
        Optional<String> table,
        List<String> untold,
        Optional<EntriesOf> entries,
        boolean newestFirst,
        int most,
        int skipped) {
    /**
     * What runs have entries of.
     *
     * @param table the name of a table; empty for any
     * @param key the key of a record of it, as the trail spells it; empty for any
     */
    public record EntriesOf(Optional<String> table, Optional<String> key) {}

    /**
     * Asks for the runs of a query, but for what was selected by them.
     *
     * @param query the query
     * @return all of them, the newest first
     */
    public static RunsAsked of(HistoryQuery query) {
        return new RunsAsked(
                query.run(),
                query.actor(),
                Optional.empty(),
                query.from(),
                query.until(),
                Optional.empty(),
                List.of(),
                Optional.empty(),
                true,
                Integer.MAX_VALUE,
                0);
    }

    /**
     * Asks only for runs that were about a table and not about others, as many as the query wants of those.
     *
     * @param query how many, and from which on
     * @param names the names of tables that aren't to be told of
     * @return the same with that
     */
    public RunsAsked about(HistoryQuery query, List<String> names) {
        return new RunsAsked(
                run,
                actor,
                about,
                from,
                until,
                query.table(),
                names,
                entries,
                newestFirst,
                query.most(),
                query.skipped());
    }

    /**
     * Asks only for runs that have entries of something.
     *
     * @param of what they have entries of
     * @param last whether the last one comes first
     * @return the same with that
     */
    public RunsAsked withEntries(EntriesOf of, boolean last) {
        return new RunsAsked(run, actor, about, from, until, table, untold, Optional.of(of), last, most, skipped);
    }

    /**
     * Asks for a run, or for all that are part of it.
     *
     * @param id its id
     * @return all of them, the newest first
     */
    public static RunsAsked of(UUID id) {
        return of(HistoryQuery.all().ofRun(id));
    }

    /**
     * Asks for what is about a run.
     *
     * @param id its id
     * @return all of it, the oldest first
     */
    public static RunsAsked about(UUID id) {
        return new RunsAsked(
                Optional.empty(),
                Optional.empty(),
                Optional.of(id),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                List.of(),
                Optional.empty(),
                false,
                Integer.MAX_VALUE,
                0);
    }
}
