package dev.vacancy.history;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.DatabaseException;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.LockedException;
import dev.vacancy.NotAsPlannedException;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.catalog.KeyGiven;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;

/**
 * The audit trail: what happened, who wanted it, and what the records were.
 *
 * <p>It is safe for use by many threads.
 *
 * @since 0.1
 */
public interface History {
    /**
     * Returns the runs, the newest first.
     *
     * @param query which
     * @return the runs
     * @throws DatabaseException when the database can't be read
     */
    List<TrailRun> runs(HistoryQuery query);

    /**
     * Returns what happened to records, the newest first.
     *
     * @param query which
     * @return the entries
     * @throws DatabaseException when the database can't be read
     */
    List<TrailEntry> entries(HistoryQuery query);

    /**
     * Reads what happened to records one by one, the oldest first, however many there are.
     *
     * @param query which; how many at most doesn't matter
     * @param each takes each entry
     * @throws DatabaseException when the database can't be read
     */
    void forEach(HistoryQuery query, Consumer<TrailEntry> each);

    /**
     * Looks at the whole trail: whether each run and each entry is as it was written.
     *
     * @param kept where the chain ended when somebody looked before, or empty
     * @return what was found
     * @throws DatabaseException when the database can't be read
     */
    Verification verify(Optional<Verification.Head> kept);

    /**
     * Holds records: nothing deletes, marks, detaches, purges or erases them until the hold is lifted. Held are those that meet the
     * criteria now, whatever becomes of them, and no others.
     *
     * @param table their table
     * @param criteria picks them, as {@link dev.vacancy.Criteria#parse} reads it
     * @param by who holds them, and why; a reason is required
     * @return the hold's id
     * @throws InvalidRequestException when the table has no key, no record meets the criteria, or there is no reason
     * @throws LockedException when somebody else holds what it needs for longer than the limits allow
     * @throws DatabaseException when the database refuses a statement
     */
    UUID hold(String table, String criteria, By by);

    /**
     * Holds whatever meets a criteria, now or at any later time, until the hold is lifted. A record that ceases to meet it isn't held any
     * more; who wants it held all the same places a {@link #hold} as well.
     *
     * @param table the table of the records
     * @param criteria picks them
     * @param by who holds them, and why; a reason is required
     * @return the hold's id
     * @throws InvalidRequestException when there is no reason, or the criteria names what isn't there
     * @throws LockedException when somebody else holds what it needs for longer than the limits allow
     * @throws DatabaseException when the database refuses a statement
     */
    UUID standingHold(String table, String criteria, By by);

    /**
     * Lifts a hold.
     *
     * @param hold its id
     * @param by who lifts it, and why
     * @throws InvalidRequestException when there is no such hold, or it is lifted
     * @throws DatabaseException when the database refuses a statement
     */
    void lift(UUID hold, By by);

    /**
     * Returns the holds that nobody has lifted.
     *
     * @return the runs that made them, the oldest first
     * @throws DatabaseException when the database can't be read
     */
    List<TrailRun> holds();

    /**
     * Spells a key the way the trail does, in which entries of a record are asked for: the values of several columns with commas
     * between them, bytes as hexadecimal digits, times as the database writes them where the record is still there.
     *
     * @param table the record's table
     * @param key its key
     * @return its text
     * @throws InvalidRequestException when the table is unknown or has no key, or the key has another shape or type
     * @throws DatabaseException when the database can't be read
     */
    String keyText(String table, KeyGiven key);

    /**
     * Works out what erasing a record from the trail would do: the content of all its entries goes, and the words of the selections that
     * it went or came back by, as they may tell of it. That something happened to it stays told. The record itself must be gone;
     * {@link dev.vacancy.Vacancy#erase} takes both.
     *
     * @param table its table
     * @param key its key, as {@link #keyText} spells it
     * @param by who wants it, and why
     * @return the plan, to be asked about and approved as any other
     * @throws InvalidRequestException when the table is unknown, or there is no trail
     * @throws DatabaseException when the database can't be read
     */
    ErasurePlan planErasure(String table, String key, By by);

    /**
     * Erases a record from the trail as was agreed to.
     *
     * @param approval proof that somebody agreed to the plan of an erasure
     * @return how many entries have lost their content
     * @throws InvalidRequestException when the approval is of something else, the record is there, or a hold is in the way
     * @throws dev.vacancy.StalePlanException when the trail holds more or less of it by now
     * @throws DatabaseException when the database refuses a statement
     */
    long erase(Approval approval);

    /**
     * Erases a record from the trail as a program has decided to. Where the rules say that a person is asked, it is refused.
     *
     * @param table its table
     * @param key its key, as {@link #keyText} spells it
     * @param by who wants it, and why
     * @return how many entries have lost their content
     * @throws InvalidRequestException when somebody has to agree, the record is there, or a hold is in the way
     * @throws DatabaseException when the database refuses a statement
     */
    long erase(String table, String key, By by);

    /**
     * Works out where a text stands in the audit trail, whatever its case, and in the tables of bulk runs: what an erasure can't know to be of
     * a person, such as a name in somebody else's note or in the reason of a run. All of the trail is read for that. Bytes aren't looked into,
     * nor is what is spelled in another way.
     *
     * @param text the text, of 3 characters or more
     * @param by who wants it masked, and why, without saying the text again
     * @return the plan, with all the places, to be asked about and approved as any other
     * @throws InvalidRequestException when the text is too short, stands in very many places or in {@code by}, or there is no trail
     * @throws DatabaseException when the database can't be read
     */
    MaskingPlan planMasking(String text, By by);

    /**
     * Puts asterisks in the place of a text wherever the trail has it. Where it is part of a key or of what isn't text, all that the entry says of
     * the record goes, as by an erasure. What is left can be verified, and restored.
     *
     * @param approval proof that somebody agreed to the plan of a masking
     * @return in how many places it stood
     * @throws InvalidRequestException when the approval is of something else, or a hold or an open bulk run is in the way
     * @throws dev.vacancy.StalePlanException when it stands in other places by now
     * @throws DatabaseException when the database refuses a statement
     */
    long mask(Approval approval);

    /**
     * Masks a text as a program has decided to. Where the rules say that a person is asked, it is refused.
     *
     * @param text the text, of 3 characters or more
     * @param by who wants it, and why, without saying the text again
     * @return in how many places it stood
     * @throws InvalidRequestException when somebody has to agree, or a hold or an open bulk run is in the way
     * @throws DatabaseException when the database refuses a statement
     */
    long mask(String text, By by);

    /**
     * Removes the oldest runs from the trail, and leaves a note of where it begins now. What they took can't be restored any more; what they
     * marked stays soft-deleted, and can only be purged.
     *
     * @param before runs from before this moment go, up to the first that is younger
     * @param by who wants it, and why
     * @return how many runs went
     * @throws InvalidRequestException when the moment is still to come, or there is no trail
     * @throws DatabaseException when the database refuses a statement
     */
    long prune(Instant before, By by);

    /**
     * Works out what undoing a run would do. Changes nothing.
     *
     * @param run the run's id, or that of a bulk run
     * @param by who wants it, and why
     * @return the plan, with all that stands in the way
     * @throws InvalidRequestException when there is no such run, or it was undone, or has nothing to undo
     * @throws DatabaseException when the database can't be read
     */
    RestorePlan planRestore(UUID run, By by);

    /**
     * Works out what bringing back a single record of a run would do, with what went or changed with it: whatever pointed at it,
     * and at that, to any depth. Changes nothing.
     *
     * @param run the run's id, or that of a bulk run
     * @param table the record's table
     * @param key its key, as text
     * @param by who wants it, and why
     * @return the plan, with all that stands in the way
     * @throws InvalidRequestException when there is no such run, or it has no such record, or that was brought back
     * @throws DatabaseException when the database can't be read
     */
    RestorePlan planRestore(UUID run, String table, String key, By by);

    /**
     * Undoes a run as was agreed to, all or nothing.
     *
     * @param approval proof that somebody agreed to a plan
     * @return what came back
     * @throws InvalidRequestException when the approval is of something else, by the rules somebody hasn't agreed, or something is in the way
     * @throws StalePlanException when something else now stands where the records stood, or less of them can come back
     * @throws NotAsPlannedException when a trigger, a rule or a column made something else of a record
     * @throws LockedException when somebody else holds what it needs for longer than the limits allow
     * @throws DatabaseException when the database refuses a statement
     * @throws OutcomeUnknownException when the connection was lost before the database had answered the commit
     */
    RestoreOutcome restore(Approval approval);

    /**
     * Undoes a run portion by portion, each in a transaction and a run of its own. Tables whose records point at each other in a
     * circle come back in one portion. If it ends early, what came back stays, and
     * the rest is planned and restored like the whole.
     *
     * @param approval proof that somebody agreed to a plan
     * @param records about how many records to bring back in a transaction, 1 or more
     * @param each is told of each portion, once it is committed
     * @return what came back in all, with the id that its portions are part of
     * @throws InvalidRequestException when as for {@link #restore(Approval)}, or inside a transaction of the application's
     * @throws StalePlanException as for {@link #restore(Approval)}
     * @throws NotAsPlannedException as for {@link #restore(Approval)}
     * @throws LockedException as for {@link #restore(Approval)}
     * @throws DatabaseException as for {@link #restore(Approval)}
     */
    RestoreOutcome restore(Approval approval, long records, Consumer<RestoreOutcome> each);

    /**
     * Selects again what a restore has brought back, to undo it: to be planned, asked about and run like any deletion.
     *
     * @param restore the restore's id
     * @return a selection of the records that the undone run had selected, as far as they came back and are there; for good
     *     where they had gone for good
     * @throws dev.vacancy.InvalidRequestException when there is no such restore, or nothing of it is left
     * @throws DatabaseException when the database can't be read
     */
    Selection undoing(UUID restore);

    /**
     * Lists soft-deleted records in the order of their keys.
     *
     * @param table a table with a marker
     * @param most how many at most
     * @return the records
     * @throws InvalidRequestException when the table is unknown or has no marker, or {@code most} is none
     * @throws DatabaseException when the database can't be read
     */
    default List<DeletedRecord> deleted(String table, int most) {
        return deleted(HistoryQuery.all().ofTable(table).atMost(most));
    }

    /**
     * Lists soft-deleted records of the table that a query names, so many of them and from there on as it says.
     *
     * @param query the table, how many at most, and how many are left out; nothing else of it matters
     * @return the records
     * @throws InvalidRequestException when it names no table, or one without a marker
     * @throws DatabaseException when the database can't be read
     */
    List<DeletedRecord> deleted(HistoryQuery query);
}
