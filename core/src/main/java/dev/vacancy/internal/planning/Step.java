package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import java.util.List;
import java.util.OptionalLong;

/**
 * One statement of a run. Steps are carried out in the order in which the plan has them.
 *
 * @since 0.1
 */
public sealed interface Step {
    /**
     * Returns the table that the step changes.
     *
     * @return the table
     */
    Table table();

    /**
     * Returns which of its records the step changes.
     *
     * @return the condition
     */
    Condition condition();

    /**
     * Returns how many records the step must change; another number at run time means that the plan is stale.
     *
     * @return the number of records; 0 where nobody has counted them
     */
    long count();

    /**
     * Tells whether the records were counted before.
     *
     * @return false if the step itself tells how many they are
     */
    default boolean isCounted() {
        return true;
    }

    /** Empties the foreign key of children that stay, or takes away the elements in which it stands. */
    record Detach(Table table, List<Column> columns, boolean takesElement, Condition condition, long count)
            implements Step {}

    /** Sets the foreign key of children that stay to another parent's key. */
    record Reassign(Table table, List<Column> columns, List<Object> values, Condition condition, long count)
            implements Step {}

    /** Sets the foreign key of children that stay to the columns' default. */
    record Reset(Table table, List<Column> columns, Condition condition, long count) implements Step {}

    /** Empties a foreign key between records that all go, because they point at each other in a circle. */
    record Loosen(Table table, List<Column> columns, Condition condition, long count) implements Step {}

    /** Says on the parents of records that are marked who changed them last, and when. */
    record Touch(Table table, Condition condition, long count) implements Step {}

    /** Marks records, which stay. */
    record Mark(Table table, Condition condition, long count) implements Step {}

    /**
     * Deletes records.
     *
     * @param table the table
     * @param condition picks the records
     * @param counted how many there are; empty where nobody has counted them
     * @param together whether they and other records point at each other, so that the database's own ON DELETE CASCADE
     *     may take some of them before this statement, or while it runs, and it counts fewer
     */
    record Delete(Table table, Condition condition, OptionalLong counted, boolean together) implements Step {
        @Override
        public long count() {
            return counted.orElse(0);
        }

        @Override
        public boolean isCounted() {
            return counted.isPresent();
        }
    }

    /**
     * Says what the step does.
     *
     * @return a verb and a table, such as {@code delete from hive}
     */
    default String attempt() {
        return (this instanceof Delete ? "delete from " : "update ") + table().name();
    }
}
