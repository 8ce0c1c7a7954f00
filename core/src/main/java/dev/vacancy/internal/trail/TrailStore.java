package dev.vacancy.internal.trail;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;
import java.util.function.Consumer;

/**
 * Where an audit trail is kept, to be read as one transaction finds it.
 *
 * @since 0.1
 */
public interface TrailStore {
    /** {@return whether the place before all others, where the chain begins, is as it was written} */
    boolean hasBeginning();

    /**
     * Reads runs.
     *
     * @param asked which
     * @return the runs, in the order of their places or against it
     */
    List<StoredRun> runs(RunsAsked asked);

    /**
     * Reads the run of a number.
     *
     * @param number the number by which its entries name it
     * @return the run; empty if there is none
     * @throws RuntimeException when somebody else wrote it, and it can't be read
     */
    Optional<StoredRun> run(long number);

    /**
     * Reads the run at a place.
     *
     * @param place its place in the chain
     * @return the run; empty if there is none
     * @throws RuntimeException when somebody else wrote it, and it can't be read
     */
    Optional<StoredRun> runAt(long place);

    /**
     * Finds the next place in the chain that is taken.
     *
     * @param place the place before it
     * @return the place; empty if no run comes after it
     */
    OptionalLong placeAfter(long place);

    /**
     * Reads the last run by which the trail was pruned.
     *
     * @return the run; empty if it never was
     */
    Optional<StoredRun> lastPruning();

    /** {@return the names of the tables that runs were about} */
    List<String> tablesOfRuns();

    /**
     * Tells which steps a run had.
     *
     * @param run the run's id
     * @return the steps, in order
     */
    List<EntryReader.StepOf> steps(UUID run);

    /**
     * Reads entries of a run.
     *
     * @param asked which
     * @param most how many at most
     * @param skipped how many come before them
     * @return the entries, in order
     */
    List<StoredEntry> entries(EntriesAsked asked, int most, long skipped);

    /**
     * Reads the entries of a run, however many there are.
     *
     * @param run its number
     * @param portions takes some at a time, in order
     */
    void each(long run, Consumer<List<StoredEntry>> portions);

    /**
     * Reads the next few runs.
     *
     * @param place the place in the chain before them
     * @param most how many at most
     * @return the runs, in the order of their places; none if there are no more
     */
    List<StoredRun> runsAfter(long place, int most);

    /**
     * Reads the next few entries of a step of a run. Where they are large they may be fewer than asked for.
     *
     * @param run the run's id
     * @param step the step's number
     * @param place the number of the entry before them, or 0
     * @param most how many at most, 1 or more
     * @return the entries, in order; none if there are no more
     */
    List<StoredEntry> entriesAfter(UUID run, int step, long place, int most);

    /**
     * Reads what a restore has undone.
     *
     * @param restore its id
     * @param each takes each entry that it has brought back, in order
     */
    void eachUndone(UUID restore, Consumer<Reference> each);

    /**
     * Finds what entries are about.
     *
     * @param entries the entries
     * @return the entries that they name, by their references
     */
    Map<Reference, StoredEntry> originals(List<StoredEntry> entries);

    /**
     * Finds an entry.
     *
     * @param reference where it is
     * @return the entry; empty if there is none
     */
    Optional<StoredEntry> entry(Reference reference);

    /**
     * Finds what an erasure or a masking says of an entry, or of a run.
     *
     * @param eraser the number of its run
     * @param about what it is about
     * @return the entry that tells of it; empty if none does
     */
    Optional<StoredEntry> pointer(long eraser, Reference about);

    /**
     * Finds what prunings say of a run.
     *
     * @param place the place that the run had
     * @return the entries that tell of it
     */
    List<StoredEntry> pruned(long place);

    /** {@return how many entries each run has erased or masked, by its number} */
    Map<Long, Long> erasures();

    /** {@return the numbers of runs that are at work, and aren't told before they are done; none where a transaction hides what they do} */
    default Set<Long> underWay() {
        return Set.of();
    }

    /** {@return the numbers of runs that entries name, and that the trail doesn't have} */
    List<Long> strangers();

    /**
     * Finds the runs that others are about.
     *
     * @param numbers numbers of runs
     * @return the place of each in the chain, by its number
     */
    Map<Long, Long> places(Set<Long> numbers);

    /**
     * Finds where records are said to have gone, been marked or come back.
     *
     * @param table the name of their table
     * @param keys their keys, as the trail spells them
     * @param whole whether only what still has the content of the record counts
     * @return what is said of them, in no order
     */
    List<RecordHistory.Mention> mentions(String table, List<String> keys, boolean whole);

    /**
     * Gives what an entry keeps of a record as people read it.
     *
     * @param entry the entry
     * @return the values by the names of their columns; empty if it keeps none
     */
    Optional<Map<String, Object>> content(StoredEntry entry);

    /**
     * Gives what columns of a record were set to as people read it.
     *
     * @param entry the entry
     * @return the values by the names of their columns; empty if none were set
     */
    Optional<Map<String, Object>> altered(StoredEntry entry);
}
