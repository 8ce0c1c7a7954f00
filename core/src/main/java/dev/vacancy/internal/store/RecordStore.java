package dev.vacancy.internal.store;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.rules.Rules;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * The records of a database, as one transaction finds them. Whatever planning wants to know it asks here, in terms of the catalog; each
 * question is answered in a fixed number of round trips, however many records it is about.
 *
 * <p>An identity, and whatever else is read <em>exactly</em>, is such that the database knows the record by it when it is sent back. Questions
 * that read records lock them if that is their {@linkplain #purpose() purpose}. A lock that isn't granted in time is told by
 * {@link LockNotGranted}, or by {@link dev.vacancy.LockedException} where nothing was to be changed; any other failure by
 * {@link dev.vacancy.DatabaseException}.
 *
 * <p>Of one thread, and as long as its transaction.
 *
 * @since 0.1
 */
public interface RecordStore {
    /**
     * Tells what the records are read for.
     *
     * @return the purpose
     */
    Purpose purpose();

    /**
     * Tells what has to be heeded when records go.
     *
     * @return the traits of the database
     */
    StoreTraits traits();

    /**
     * Takes the locks that have to be there before anything is read.
     *
     * @param table the table whose records are selected
     */
    void beginWriting(Table table);

    /**
     * Keeps others from adding records to a table, as far as a lock on their parents wouldn't. Does nothing if nothing is to be locked.
     *
     * @param table the table
     */
    void lockTable(Table table);

    /**
     * Reads the identities of records in their order.
     *
     * @param table the table
     * @param among picks the records
     * @param most how many at most
     * @param skippingHeld true to leave out those that someone else has locked
     * @return the identities
     */
    List<List<Object>> identities(Table table, Condition among, int most, boolean skippingHeld);

    /**
     * Reads the identities of records of several tables, each in their order.
     *
     * @param picked which
     * @return for each, in order
     */
    default List<List<List<Object>>> identities(List<Picked> picked) {
        return picked.stream()
                .map(some -> identities(some.table(), some.among(), Integer.MAX_VALUE, false))
                .toList();
    }

    /**
     * Reads the identities of records in their order, one by one, however many there are.
     *
     * @param table the table
     * @param among picks the records
     * @param each takes each identity
     */
    void eachIdentity(Table table, Condition among, Consumer<List<Object>> each);

    /**
     * Reads columns of records exactly, in any order.
     *
     * @param table the table
     * @param columns the columns
     * @param among picks the records
     * @return of each record the values
     */
    List<List<Object>> records(Table table, List<Column> columns, Condition among);

    /**
     * Does the same record by record, however many there are.
     *
     * @param table the table
     * @param columns the columns
     * @param among picks the records
     * @param each takes the values of each record
     */
    void eachRecord(Table table, List<Column> columns, Condition among, Consumer<List<Object>> each);

    /**
     * Reads records whole, and some of their columns exactly, in any order.
     *
     * @param table the table
     * @param exactly the columns
     * @param among picks the records
     * @param each takes each record
     */
    void eachWhole(Table table, List<Column> exactly, Condition among, Consumer<Whole> each);

    /**
     * Reads records whole, and their identities exactly, in the order of these. Nothing is locked.
     *
     * @param table the table
     * @param among picks the records
     * @param each takes each record
     */
    void eachWholeInOrder(Table table, Condition among, Consumer<Whole> each);

    /**
     * Reads records, and those that hang on them by a link from their table to itself, generation by generation. Nothing is locked.
     *
     * @param link the link
     * @param columns what is read of each, exactly; the columns that the link refers to among them
     * @param first picks the records to begin with
     * @param further what those below them must meet; empty for all
     * @param rounds how many generations to go down; empty for all
     * @return each record once
     */
    List<List<Object>> descendants(
            Link link, List<Column> columns, Condition first, Optional<Condition> further, OptionalInt rounds);

    /**
     * Asks which record each of some children has for its parent.
     *
     * @param link the link
     * @param children the identities of the children
     * @return both identities, side by side; nothing for a child without that parent
     */
    List<List<Object>> parents(Link link, Collection<List<Object>> children);

    /**
     * Counts children by their parents.
     *
     * @param link the link
     * @param children picks the children
     * @return of each parent that has any how many
     */
    List<Counted> countByParent(Link link, Condition children);

    /**
     * Reads the first few records of several tables.
     *
     * @param wanted which
     * @return for each, in order, the records with their values by column; what is of the identity is exact
     */
    List<List<Map<Column, Object>>> first(List<First> wanted);

    /**
     * Counts records of several tables, and tells between which keys they lie.
     *
     * @param picked which
     * @return for each, in order
     */
    List<Tally> tallies(List<Picked> picked);

    /**
     * Locks records and counts them, where nobody has agreed to certain ones and it can be done without reading them.
     *
     * @param table the table
     * @param among picks the records
     * @return how many; empty where they have to be read
     */
    OptionalLong lockedCount(Table table, Condition among);

    /**
     * Tells where a deletion may leave a record that it has found.
     *
     * @param tables the tables
     * @return those of them that may keep one
     */
    Set<Table> keepingRecords(List<Table> tables);

    /**
     * Counts records.
     *
     * @param table the table
     * @param among picks the records
     * @return how many
     */
    long count(Table table, Condition among);

    /**
     * Counts the records that couldn't be written down whole in a trail.
     *
     * @param recording the trail, and what it leaves out
     * @param table the table
     * @param among picks the records
     * @return how many, by what stands in the way
     */
    Unrecordable unrecordable(Rules.Recording recording, Table table, Condition among);

    /**
     * Counts records that are among those on which a hold was placed.
     *
     * @param recording the trail that the hold is in
     * @param hold the number of its run
     * @param table the table
     * @param among picks the records
     * @return how many
     */
    long countHeld(Rules.Recording recording, UUID hold, Table table, Condition among);

    /**
     * Tells how a table could be emptied at once.
     *
     * @param table the table
     * @return how; empty where the database can't as a part of a transaction
     */
    Optional<EmptiedAtOnce> emptiedAtOnce(Table table);

    /**
     * Keeps everybody else from a table that is emptied at once.
     *
     * @param table a table for which {@link #emptiedAtOnce} gave something
     */
    void lockToEmpty(Table table);

    /**
     * Tells whether texts that differ may count as the same, by their case or their accents for instance.
     *
     * @param column the column that holds them
     * @return true if the database compares them so
     */
    boolean foldsText(Column column);

    /**
     * Some records of a table.
     *
     * @param table the table
     * @param among picks them
     */
    record Picked(Table table, Condition among) {}

    /**
     * A few records of a table.
     *
     * @param most how many at most
     * @param inOrder false for any few, where there are too many to put them in order
     * @param table the table
     * @param columns what is read of each
     * @param among picks the records
     */
    record First(int most, boolean inOrder, Table table, Set<Column> columns, Condition among) {}

    /**
     * A record.
     *
     * @param exact the columns that were asked for
     * @param values all that it holds, by column, as people see it
     */
    record Whole(List<Object> exact, Map<String, @Nullable Object> values) {}

    /**
     * What is known of a number of records without holding them.
     *
     * @param count how many there are
     * @param identifying what would be another text for others of the same number: a digest of their keys, or the lowest and the highest
     */
    record Tally(long count, String identifying) {}

    /**
     * How many children a record has.
     *
     * @param identity its identity
     * @param count how many
     */
    record Counted(List<Object> identity, long count) {}

    /**
     * How many records can't be written down whole.
     *
     * @param tooLarge those that are larger than the database takes
     * @param notComingBack those with a value of which the database couldn't make the same again
     */
    record Unrecordable(long tooLarge, long notComingBack) {}

    /**
     * How a table is emptied at once.
     *
     * @param allowed whether the user may, and sees all of it
     * @param triggers the triggers that it would pass over
     */
    record EmptiedAtOnce(boolean allowed, List<String> triggers) {}
}
