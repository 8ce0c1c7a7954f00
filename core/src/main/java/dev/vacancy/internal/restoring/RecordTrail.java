package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.follow.MessageStore;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.Redeemed;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailStore;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.LongFunction;

/**
 * An audit trail in a database that isn't relational, beside the records that it tells of.
 *
 * <p>Safe for use by many threads.
 *
 * @since 0.1
 */
public interface RecordTrail {
    /**
     * Makes what the trail is kept in, where it isn't there.
     *
     * @param recording where it is kept
     * @throws dev.vacancy.InvalidRequestException when it can't be kept there
     */
    void setUp(Rules.Recording recording);

    /**
     * Opens the messages of what follows runs.
     *
     * @param rules the rules, with the trail and follow-ups
     * @return where they wait
     */
    MessageStore messages(Rules rules);

    /**
     * Opens the trail.
     *
     * @param recording where it is kept
     * @return what it tells
     */
    TrailStore store(Rules.Recording recording);

    /**
     * Writes down a run that is about no records.
     *
     * @param recording where
     * @param facts what it was
     */
    void append(Rules.Recording recording, RunFacts facts);

    /**
     * Holds records, and waits for the runs that are under way and may not know of it.
     *
     * @param recording where the trail is kept
     * @param table the table of the records
     * @param condition picks them; empty where whatever meets a criteria is held
     * @param facts what is said of the hold, given the number of records
     * @throws dev.vacancy.LockedException when one of these runs takes too long, or has taken held records; nothing is held then
     */
    void hold(Rules.Recording recording, Table table, Optional<Condition> condition, LongFunction<RunFacts> facts);

    /**
     * Spells a key as the trail does.
     *
     * @param table the record's table
     * @param key its key
     * @return its text
     */
    String keyText(Table table, Key key);

    /**
     * Finds the records of entries.
     *
     * @param table their table
     * @param entries the entries
     * @return the keys of those that are there
     */
    List<Key> keys(Table table, List<StoredEntry> entries);

    /**
     * Looks what can come back, and what stands in the way. Changes nothing.
     *
     * @param undoing what is to be undone
     * @return what was found; empty if the runs know nothing of the record that is asked for
     */
    Optional<Restorable> look(Undoing undoing);

    /**
     * Brings back what can come back, all or nothing.
     *
     * @param passage proof that it has come through the gate
     * @param undoing what is undone
     * @param facts what is said of it in the trail
     * @param expected what was found when it was looked for
     * @param redeemed the approval that is redeemed by it, which this run has taken; empty if none is
     * @throws dev.vacancy.StalePlanException when something else stands there by now; nothing is changed then
     * @throws dev.vacancy.OutcomeUnknownException when the database stopped answering in the middle
     */
    void restore(Passage passage, Undoing undoing, RunFacts facts, Restorable expected, Optional<Redeemed> redeemed);

    /**
     * Tells whether the record of a key is there.
     *
     * @param table the record's table
     * @param key its key, as the trail spells it
     * @return whether it is
     */
    boolean isThere(Table table, String key);

    /**
     * Looks where the trail tells of a record.
     *
     * @param rules the rules, with the trail
     * @param table the record's table
     * @param key its key, as the trail spells it
     * @return what was found
     */
    TracedEntries traces(Rules rules, Table table, String key);

    /**
     * Takes what is told of a record out of the trail, all or nothing.
     *
     * @param passage proof that it, or the deletion that it is part of, has come through the gate
     * @param rules the rules, with the trail
     * @param table the record's table
     * @param key its key, as the trail spells it
     * @param expected what was found when it was looked for
     * @param facts what is said of it in the trail
     * @param redeemed the approval that is redeemed by it, which this run has taken; empty if none is
     * @throws dev.vacancy.StalePlanException when the trail tells more or less of it by now; nothing is changed then
     */
    void erase(
            Passage passage,
            Rules rules,
            Table table,
            String key,
            TracedEntries expected,
            RunFacts facts,
            Optional<Redeemed> redeemed);

    /**
     * Removes the oldest runs, but for what tells of held records, and what came after that.
     *
     * @param rules the rules, with the trail
     * @param before what happened before goes
     * @param facts what is said of it, given the runs that go
     * @return how many went
     */
    long prune(Rules rules, Instant before, Function<List<StoredRun>, RunFacts> facts);
}
