package dev.vacancy;

import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.internal.request.GivenKeyList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Collectors;

/**
 * What a user asked to delete. A selection means all records of a table only if it says so by {@code allRecords()}: one without a
 * key is refused, and so is a criteria that every record meets.
 *
 * <pre>{@code
 * Selection.of("hive").key(12)
 * Selection.of("hive").keys(List.of(12, 13)).expecting(2)
 * Selection.of("apiary_keeper").key(3, 7)
 * Selection.of("apiary_keeper").key(Map.of("apiary_id", 3, "keeper_id", 7))
 * Selection.of("inspection").where(column("inspected_on").lessThan(Moment.parse("today - 2 years")))
 * Selection.of("inspection").where(Criteria.parse("hive.name like 'Fell%' and inspected_on < today - 2 years")).atMost(500)
 * Selection.of("photo").allRecords()
 * }</pre>
 *
 * <p>A key may be given as text, the way a URL or a command line has it; it is read strictly by the column's type.
 *
 * <p>It is immutable: each method returns another one.
 *
 * @since 0.1
 */
public final class Selection {
    private static final int KEYS_IN_WORDS = 10;

    private final String table;
    private final Pick pick;
    private final Guards guards;
    private final Map<String, KeyGiven> newParents;
    private final boolean skipBlocked;
    private final Finality finality;

    private Selection(
            String table,
            Pick pick,
            Guards guards,
            Map<String, KeyGiven> newParents,
            boolean skipBlocked,
            Finality finality) {
        this.table = table;
        this.pick = pick;
        this.guards = guards;
        this.newParents = Collections.unmodifiableMap(new LinkedHashMap<>(newParents));
        this.skipBlocked = skipBlocked;
        this.finality = finality;
    }

    /** Whether records are marked or go: as the rule of their table says, or for good. */
    private enum Finality {
        BY_RULE,
        HARD,
        PURGE
    }

    /** What the records are picked by: one of the three. */
    private record Pick(List<KeyGiven> keys, Optional<Criteria> criteria, boolean all) {
        Pick {
            keys = keys instanceof GivenKeyList ? keys : List.copyOf(keys);
        }
    }

    /** How many records there must be, and may be. */
    private record Guards(OptionalLong expected, OptionalLong most) {
        static final Guards NONE = new Guards(OptionalLong.empty(), OptionalLong.empty());
    }

    /**
     * Starts a selection of records of one table.
     *
     * @param table its name, with its schema in front where it isn't the connection's own
     * @return what takes the keys or the criteria
     */
    public static From of(String table) {
        return new From(table);
    }

    /**
     * Refuses to plan when the selection matches another number of records.
     *
     * @param records how many the caller counts on, 0 or more
     * @return the stricter selection
     * @throws InvalidRequestException when it is negative
     */
    public Selection expecting(long records) {
        if (records < 0) {
            throw new InvalidRequestException(
                    FailureCode.UNEXPECTED_COUNT,
                    "A selection can't be expected to match " + records + " records.",
                    "Expect 0 or more.");
        }
        return new Selection(
                table, pick, new Guards(OptionalLong.of(records), guards.most), newParents, skipBlocked, finality);
    }

    /**
     * Refuses to plan when the selection matches more records than that.
     *
     * @param records how many it may match, 1 or more
     * @return the stricter selection
     * @throws InvalidRequestException when it is less than 1
     */
    public Selection atMost(long records) {
        if (records < 1) {
            throw new InvalidRequestException(
                    FailureCode.UNEXPECTED_COUNT,
                    "A selection of at most " + records + " records selects nothing.",
                    "Allow 1 or more.");
        }
        return new Selection(
                table, pick, new Guards(guards.expected, OptionalLong.of(records)), newParents, skipBlocked, finality);
    }

    /**
     * Leaves out the records whose deletion children forbid, and deletes the others, instead of failing as a whole. The
     * plan lists those that are left out, each with its blockers.
     *
     * @return the selection
     */
    public Selection skippingBlocked() {
        return new Selection(table, pick, guards, newParents, true, finality);
    }

    /**
     * Names the parent that takes over the children on a link whose rule is to reassign them.
     *
     * @param link where the link's foreign key stands, such as {@code inspection.keeper_id}
     * @param newParent the new parent's key, one value for each of its columns, in their order
     * @return the selection with that
     */
    public Selection reassigning(String link, Object... newParent) {
        Map<String, KeyGiven> all = new LinkedHashMap<>(newParents);
        all.put(
                link,
                newParent.length == 1 && newParent[0] instanceof KeyGiven given
                        ? given
                        : new KeyGiven.InOrder(Arrays.asList(newParent)));
        return new Selection(table, pick, guards, all, skipBlocked, finality);
    }

    /**
     * Names the parent that takes over the children on a link of one column.
     *
     * @param link the foreign key's column
     * @param newParent the new parent's key
     * @param <V> its type
     * @return the selection with that
     */
    public <V> Selection reassigning(ColumnCriteria<V> link, V newParent) {
        return reassigning(link.name(), newParent);
    }

    /**
     * Has the records deleted for good, those that are soft-deleted already among them, whatever the rule of their table says.
     *
     * @return the selection
     */
    public Selection hard() {
        return new Selection(table, pick, guards, newParents, skipBlocked, Finality.HARD);
    }

    /**
     * Has soft-deleted records removed for good, and never an active one.
     *
     * @return the selection
     */
    public Selection purging() {
        return new Selection(table, pick, guards, newParents, skipBlocked, Finality.PURGE);
    }

    /**
     * Tells whether only soft-deleted records are meant.
     *
     * @return true if they are to be removed for good
     */
    public boolean isPurge() {
        return finality == Finality.PURGE;
    }

    /**
     * Says in words what is selected.
     *
     * @return such as {@code hive where wood = 'pine'}, or {@code hive 3, 4}
     */
    public String words() {
        if (pick.all) {
            return "all records of " + table;
        }
        if (pick.criteria.isPresent()) {
            return table + " where " + pick.criteria.get();
        }
        return pick.keys.size() > KEYS_IN_WORDS
                ? String.format(Locale.ROOT, "%,d keys of %s", pick.keys.size(), table)
                : table + " " + pick.keys.stream().map(Selection::words).collect(Collectors.joining(", "));
    }

    private static String words(KeyGiven key) {
        Collection<?> values =
                key instanceof KeyGiven.ByName named ? named.values().values() : ((KeyGiven.InOrder) key).values();
        return values.stream().map(String::valueOf).collect(Collectors.joining(","));
    }

    /**
     * Tells whether the records go for good, whatever the rule of their table says.
     *
     * @return true if that was asked for
     */
    public boolean isHard() {
        return finality != Finality.BY_RULE;
    }

    /**
     * Returns the table's name.
     *
     * @return the name as it was given
     */
    public String table() {
        return table;
    }

    /**
     * Returns the keys that were given.
     *
     * @return the keys in their order, one given twice among them; none if the records are picked by something else
     */
    public List<KeyGiven> keys() {
        return pick.keys;
    }

    /**
     * Returns what picks the records, if they aren't given by key.
     *
     * @return the criteria, or empty
     */
    public Optional<Criteria> criteria() {
        return pick.criteria;
    }

    /**
     * Returns how many records have to be found.
     *
     * @return the number, or empty if any number will do
     */
    public OptionalLong expected() {
        return guards.expected;
    }

    /**
     * Returns how many records may be found.
     *
     * @return the number, or empty if there is no limit
     */
    public OptionalLong most() {
        return guards.most;
    }

    /**
     * Tells whether all records of the table were asked for, by that name.
     *
     * @return true for what {@link From#allRecords} gives
     */
    public boolean isOfAllRecords() {
        return pick.all;
    }

    /**
     * Returns who takes over children.
     *
     * @return keys of new parents by where the foreign key stands
     */
    public Map<String, KeyGiven> newParents() {
        return newParents;
    }

    /**
     * Tells whether blocked records are left out.
     *
     * @return false if a blocked record forbids the whole deletion
     */
    public boolean isSkippingBlocked() {
        return skipBlocked;
    }

    /** Whether the very same is selected: each key as it was given, and in the same order. */
    @Override
    public boolean equals(Object other) {
        return other instanceof Selection selection
                && table.equals(selection.table)
                && pick.equals(selection.pick)
                && guards.equals(selection.guards)
                && newParents.equals(selection.newParents)
                && skipBlocked == selection.skipBlocked
                && finality == selection.finality;
    }

    @Override
    public int hashCode() {
        return Objects.hash(table, pick, guards, newParents, skipBlocked, finality);
    }

    @Override
    public String toString() {
        return words();
    }

    /**
     * A table whose records are about to be selected.
     *
     * @since 0.1
     */
    public static final class From {
        private final String table;

        private From(String table) {
            this.table = table;
        }

        /**
         * Selects one record.
         *
         * @param values the key, one value for each of its columns, in their order
         * @return the selection
         */
        public Selection key(Object... values) {
            return selecting(new Pick(List.of(given(values)), Optional.empty(), false));
        }

        /**
         * Selects several records.
         *
         * @param keys for each record its value, a list of values or a map by column names; none is
         *     refused when it comes to a plan
         * @return the selection
         */
        public Selection keys(Collection<?> keys) {
            return selecting(new Pick(GivenKeyList.of(keys), Optional.empty(), false));
        }

        /**
         * Selects the records that meet a criteria.
         *
         * @param criteria on columns of the table and of its parents
         * @return the selection
         * @throws InvalidRequestException when there is no criteria
         */
        public Selection where(Criteria criteria) {
            if (criteria == null) {
                throw new InvalidRequestException(
                        FailureCode.CRITERIA_MISSING,
                        "No criteria was given for the records of " + table + "; that never means all of them.",
                        "Say what the records must have in common.");
            }
            return selecting(new Pick(List.of(), Optional.of(criteria), false));
        }

        /**
         * Selects all records of the table. Nothing else ever means that. A person who is asked about it has to type their
         * number.
         *
         * @return the selection
         */
        public Selection allRecords() {
            return selecting(new Pick(List.of(), Optional.empty(), true));
        }

        private Selection selecting(Pick pick) {
            return new Selection(table, pick, Guards.NONE, Map.of(), false, Finality.BY_RULE);
        }

        /** A single map is what it is, whatever type the caller's variable has. */
        @SuppressWarnings("unchecked") // names are checked against the columns when the selection meets a catalog
        private static KeyGiven given(Object[] values) {
            // Not List.of: a null is told later, with the name of the column that lacks a value.
            return values.length == 1 && values[0] instanceof Map<?, ?> byName
                    ? new KeyGiven.ByName((Map<String, ?>) byName)
                    : new KeyGiven.InOrder(Arrays.asList(values));
        }
    }
}
