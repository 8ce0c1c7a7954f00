package dev.vacancy.internal.chunking;

import dev.vacancy.By;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.FailedRecord;
import dev.vacancy.catalog.Key;
import dev.vacancy.internal.running.Redeemed;
import dev.vacancy.internal.running.SettledChunk;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/**
 * Where the state of bulk runs is kept in a database that isn't relational: a line for each run, and one for each of its records.
 *
 * <p>Safe for use by many threads.
 *
 * @since 0.1
 */
public interface BulkStore {
    /**
     * Says that a run is about to begin, and makes what its state is kept in, where that isn't there.
     *
     * @param run the id of the run
     */
    void prepare(UUID run);

    /**
     * Writes down records that a run is about, before the run begins.
     *
     * @param run the id of the run
     * @param first the place of the first of them
     * @param keys their keys
     */
    void add(UUID run, long first, List<Key> keys);

    /**
     * Forgets the records of a run that doesn't begin.
     *
     * @param run the id of the run
     */
    void withdraw(UUID run);

    /**
     * Begins a run.
     *
     * @param run the run
     * @param conditions what its workers need, as {@link WrittenConditions} has it
     * @param redeemed the approval that is redeemed by that; empty if none is
     * @throws dev.vacancy.StalePlanException when nothing was heard of it for so long that it was given up; it doesn't begin then
     */
    void begin(StoredBulkRun run, WrittenConditions conditions, Optional<Redeemed> redeemed);

    /**
     * What workers need of a run, as it is kept.
     *
     * @param text all but the rules
     * @param rules the digest of the rules
     */
    record WrittenConditions(String text, String rules) {}

    /**
     * Looks a run up.
     *
     * @param run the id of the run
     * @return the run; empty if there is none
     */
    Optional<StoredBulkRun> run(UUID run);

    /**
     * Looks up what workers need of a run.
     *
     * @param run the id of a run that is there
     * @return what it was begun with
     */
    WrittenConditions conditions(UUID run);

    /** {@return all runs, the newest first} */
    List<StoredBulkRun> list();

    /**
     * Lists records that a run left where they are.
     *
     * @param run the run
     * @param most how many at most
     * @return the records in their order
     */
    List<FailedRecord> failures(StoredBulkRun run, int most);

    /**
     * A record that somebody has claimed.
     *
     * @param place its place in the run
     * @param key the values of its key, as they can be given
     * @param triedBefore whether it has failed once
     */
    record Claimed(long place, List<Object> key, boolean triedBefore) {}

    /**
     * Claims the next records that nobody else has claimed; those that have failed once come last.
     *
     * @param run the id of the run
     * @param chunk the id of the run that is to deal with them
     * @param most how many at most
     * @return the records in their order; none if there are none, or others have claimed them
     */
    List<Claimed> claim(UUID run, UUID chunk, int most);

    /**
     * Hands claimed records to another run, or to the same once more; others take them for given up some time after that.
     *
     * @param run the id of the bulk run
     * @param from the id of the run that has claimed them
     * @param to the id of the run that deals with them from now on
     * @param places their places
     */
    void handOver(UUID run, UUID from, UUID to, List<Long> places);

    /**
     * Gives up what was claimed and not dealt with.
     *
     * @param run the id of the bulk run
     * @param chunk the id of the run that has claimed it
     */
    void release(UUID run, UUID chunk);

    /**
     * Says what became of claimed records of which none is to be deleted, all or nothing.
     *
     * @param chunk the id of the run that has claimed them
     * @param by who wanted it
     * @param settled what became of them
     * @return false if somebody else has some of them by now, and nothing was said
     */
    boolean settle(UUID chunk, By by, SettledChunk settled);

    /**
     * Tells whether anything is still to be dealt with, be it claimed or not.
     *
     * @param run the id of the run
     * @return whether it is
     */
    boolean isOpen(UUID run);

    /**
     * Moves a run from one of some states to another one.
     *
     * @param run the id of the run
     * @param from the states
     * @param to the other one
     * @param at when
     * @return whether it was in one of them
     */
    boolean move(UUID run, List<BulkState> from, BulkState to, Instant at);

    /**
     * Says that somebody works on a run.
     *
     * @param run the id of the run
     * @param at when
     */
    void touch(UUID run, Instant at);
}
