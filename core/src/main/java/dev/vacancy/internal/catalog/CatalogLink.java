package dev.vacancy.internal.catalog;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import java.util.List;
import java.util.stream.Collectors;

/**
 * A child's foreign key to its parent.
 *
 * @param constraint the constraint's name as stored; empty for an undeclared link. Of a link turned round, where the declared
 *     one stands
 * @param child the table that holds the foreign key
 * @param childColumns the foreign key's columns
 * @param parent the table it points to; the child itself for a self-reference
 * @param parentColumns the columns it points to, a primary or unique key, in the order of the child's
 * @param onDelete what the database does when the parent goes
 * @param declared whether the database enforces it; if not, only the rules know of it
 * @param emptied the columns that are set to null when a child is detached; all of the foreign key's unless the schema
 *     names some
 * @param deferrable whether the database can put off its check until the end of the transaction
 * @param enforced whether the database checks it; false for one that only stands in the schema, or isn't declared
 * @since 0.1
 */
public record CatalogLink(
        String constraint,
        Table child,
        List<Column> childColumns,
        Table parent,
        List<Column> parentColumns,
        OnDelete onDelete,
        boolean declared,
        List<Column> emptied,
        boolean deferrable,
        boolean enforced)
        implements Link {
    /** Keeps its own copies of the lists. */
    public CatalogLink {
        childColumns = List.copyOf(childColumns);
        emptied = List.copyOf(emptied);
        parentColumns = List.copyOf(parentColumns);
    }

    /**
     * Makes a link that the database doesn't enforce.
     *
     * @param child the table that holds the foreign key
     * @param childColumns the foreign key's columns
     * @param parent the table it points to
     * @param parentColumns the columns it points to, in the order of the child's
     * @return the link
     */
    public static Link undeclared(Table child, List<Column> childColumns, Table parent, List<Column> parentColumns) {
        return new CatalogLink(
                "", child, childColumns, parent, parentColumns, OnDelete.NO_ACTION, false, childColumns, false, false);
    }

    /**
     * Turns a declared link round, for a child and a parent that are one record in two tables: then the parent goes with the
     * child too.
     *
     * @return the link from the parent's table to the child's, which the database enforces by this one
     */
    @SuppressWarnings("ArgumentSelectionDefectChecker") // they are meant to change places
    public Link mirrored() {
        return new CatalogLink(
                where(),
                parent,
                parentColumns,
                child,
                childColumns,
                OnDelete.NO_ACTION,
                false,
                parentColumns,
                false,
                true);
    }

    /**
     * Tells whether this is a declared link turned round.
     *
     * @return true for what {@link #mirrored} gives
     */
    public boolean isMirror() {
        return !declared && !constraint.isEmpty();
    }

    /**
     * Tells whether parent and child may be one record in two tables, as object mappers store a subclass: the child's key is
     * its foreign key.
     *
     * @return true if each parent has one child at most, with the same key
     */
    public boolean sharesKey() {
        return declared && enforced && !isToItself() && childColumns.equals(child.primaryKey());
    }

    /**
     * Tells whether a child can do without its parent.
     *
     * @return true if every column that has to be emptied may be null
     */
    public boolean nullable() {
        return emptied.stream().allMatch(Column::nullable);
    }

    /**
     * Tells whether parent and child are records of one table.
     *
     * @return true for a link from a table to itself
     */
    public boolean isToItself() {
        return child.equals(parent);
    }

    /**
     * Tells whether a child's foreign key can be compared with the parent's value alone, without a look at the parent: both
     * ends are of one type and of one collation.
     *
     * @return false if only the database knows which parent a foreign key means
     */
    public boolean comparesByValue() {
        for (int i = 0; i < childColumns.size(); i++) {
            ColumnType own = ColumnType.of(childColumns.get(i));
            ColumnType other = ColumnType.of(parentColumns.get(i));
            boolean alike = own.castable().equals(other.castable()) || (own.isInteger() && other.isInteger());
            if (!alike || !own.collation().equals(other.collation())) {
                return false;
            }
        }
        return true;
    }

    @Override
    public boolean indexed() {
        return CatalogTable.of(child).isIndexed(childColumns);
    }

    @Override
    public String where() {
        return child.name() + "."
                + (childColumns.size() == 1
                        ? childColumns.get(0).name()
                        : childColumns.stream().map(Column::name).collect(Collectors.joining(", ", "(", ")")));
    }

    // Links are compared all the time, mostly with themselves.
    @Override
    public boolean equals(Object other) {
        return this == other
                || (other instanceof CatalogLink link
                        && constraint.equals(link.constraint)
                        && child.equals(link.child)
                        && childColumns.equals(link.childColumns)
                        && parent.equals(link.parent)
                        && parentColumns.equals(link.parentColumns)
                        && onDelete == link.onDelete
                        && declared == link.declared
                        && emptied.equals(link.emptied)
                        && deferrable == link.deferrable
                        && enforced == link.enforced);
    }

    @Override
    public int hashCode() {
        return where().hashCode();
    }

    @Override
    public String toString() {
        return where() + " -> " + parent.name();
    }

    /**
     * Returns the engine's side of what an application sees.
     *
     * @param seen what the application sees
     * @return the same
     */
    public static CatalogLink of(Link seen) {
        return (CatalogLink) seen;
    }
}
