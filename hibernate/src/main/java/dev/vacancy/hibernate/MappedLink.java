package dev.vacancy.hibernate;

import java.util.List;

/**
 * A link between two tables, as an association, an inheritance or a collection of the mapping makes it.
 *
 * @param child the table of the foreign key
 * @param foreignKey its columns
 * @param parent the table that it points to
 * @param key the columns that it points to
 * @param treatment what becomes of the children when their parent goes
 * @param owned whether the parent goes with its last child
 * @param enforced whether the mapping expects a constraint of the database's
 * @param optional whether the mapping allows a child without a parent
 * @param origin where the mapping says so, such as {@code Pier.berths}
 * @param why in a few words what it says there, such as {@code cascade REMOVE}
 */
record MappedLink(
        MappedTable child,
        List<String> foreignKey,
        MappedTable parent,
        List<String> key,
        Treatment treatment,
        boolean owned,
        boolean enforced,
        boolean optional,
        String origin,
        String why) {
    MappedLink {
        foreignKey = List.copyOf(foreignKey);
        key = List.copyOf(key);
    }

    /** What becomes of children, as far as the mapping says it; what is said first counts where it is said twice. */
    enum Treatment {
        /** The child is a part of its parent: a subclass in a table of its own, or a secondary table. */
        PART,
        /** The child goes too. */
        CASCADE,
        /** The mapper empties the foreign key, since the parent's collection owns it. */
        DETACH,
        /** The mapper takes no notice of a parent that isn't there. */
        KEEP,
        /** The database deletes the child, as the mapping knows. */
        DATABASE,
        /** The child only points to its parent. */
        REFERENCE
    }
}
