package dev.vacancy.test;

import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.assertj.core.api.AbstractAssert;

/**
 * What can be said of a deletion, planned or done. When something else is the case, the failure shows the whole of it.
 *
 * @param <S> the assertion itself
 * @param <A> what it is about
 * @since 0.1
 */
public abstract sealed class DeletionAssert<S extends DeletionAssert<S, A>, A> extends AbstractAssert<S, A>
        permits PlanAssert, OutcomeAssert {
    DeletionAssert(A actual, Class<S> self) {
        super(actual, self);
    }

    abstract Map<String, Long> counts();

    abstract Map<String, Long> changes();

    abstract Set<String> markedTables();

    abstract String shown();

    /**
     * Says how many records of a table go, whether for good or marked.
     *
     * @param table the table
     * @param records how many, 1 or more
     * @return this
     */
    public S deletes(String table, long records) {
        return expecting(counts().getOrDefault(table, 0L) == records, records + " of " + table + " to go");
    }

    /**
     * Says how many records of each table go, and that none of any other does.
     *
     * @param expected the numbers by table
     * @return this
     */
    public S deletesOnly(Map<String, ? extends Number> expected) {
        Map<String, Long> wanted = new TreeMap<>();
        expected.forEach((table, records) -> wanted.put(table, records.longValue()));
        return expecting(wanted.equals(new TreeMap<>(counts())), "just " + wanted + " to go");
    }

    /**
     * Says that no record of some tables goes.
     *
     * @param tables the tables
     * @return this
     */
    public S leaves(String... tables) {
        for (String table : tables) {
            expecting(!counts().containsKey(table), "no record of " + table + " to go");
        }
        return myself;
    }

    /**
     * Says that the records of some tables are only marked, and stay.
     *
     * @param tables the tables
     * @return this
     */
    public S marks(String... tables) {
        for (String table : tables) {
            expecting(markedTables().contains(table), "records of " + table + " to be marked");
        }
        return myself;
    }

    /**
     * Says that no record is only marked.
     *
     * @return this
     */
    public S marksNothing() {
        return expecting(markedTables().isEmpty(), "no record to be marked");
    }

    /**
     * Says how many records stay with another foreign key.
     *
     * @param link where the foreign key stands, such as {@code craft.berth_id}
     * @param records how many
     * @return this
     */
    public S changes(String link, long records) {
        return expecting(changes().getOrDefault(link, 0L) == records, records + " to be changed on " + link);
    }

    final S expecting(boolean asExpected, String what) {
        isNotNull();
        if (!asExpected) {
            failWithMessage("%nExpected %s, but this is what goes:%n%n%s", what, shown());
        }
        return myself;
    }
}
