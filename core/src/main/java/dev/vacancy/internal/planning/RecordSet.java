package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.store.RecordStore;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The records of one table that go. */
sealed interface RecordSet permits KeyedRecords, UnreadRecords, RecordSet.None {
    /** Their table. */
    Table table();

    /** The cascading clauses over which they were reached. */
    Set<LinkCase> ways();

    /** Picks exactly these; empty if there are none. */
    Optional<Condition> condition();

    /** How many there are, and what tells them from others of the same number; empty as long as nobody has counted them. */
    Optional<RecordStore.Tally> tally();

    /** Picks the children that they have on a link, whether those go themselves or not. */
    Condition childrenOn(Link link);

    /** How many of them were reached over a clause, as far as they were read. */
    long reachedOver(LinkCase way);

    /**
     * Names the records that lead from a selected one to the parent of each of some children on a link.
     *
     * @param rows of each child its identity first, if its table has one, and its foreign key last
     * @return for each row the way, in order; empty if nobody knows
     */
    List<List<String>> waysTo(Link link, List<List<Object>> rows);

    /** A table that cascades lead to, and none of its records goes as yet. */
    record None(Table table, Set<LinkCase> ways) implements RecordSet {
        @Override
        public Optional<Condition> condition() {
            return Optional.empty();
        }

        @Override
        public Optional<RecordStore.Tally> tally() {
            return Optional.of(new RecordStore.Tally(0, ""));
        }

        @Override
        public Condition childrenOn(Link link) {
            throw new IllegalStateException("None of " + table + " goes");
        }

        @Override
        public long reachedOver(LinkCase way) {
            return 0;
        }

        @Override
        public List<List<String>> waysTo(Link link, List<List<Object>> rows) {
            return rows.stream().map(row -> List.<String>of()).toList();
        }
    }
}
