package dev.vacancy.catalog;

import dev.vacancy.internal.catalog.CatalogLink;
import java.util.List;

/**
 * A child's foreign key to its parent.
 *
 * @since 0.1
 */
public sealed interface Link permits CatalogLink {
    /** {@return the constraint's name as stored; empty for an undeclared link. Of a link turned round, where the declared one stands} */
    String constraint();

    /** {@return the table that holds the foreign key} */
    Table child();

    /** {@return the foreign key's columns} */
    List<Column> childColumns();

    /** {@return the table it points to; the child itself for a self-reference} */
    Table parent();

    /** {@return the columns it points to, a primary or unique key, in the order of the child's} */
    List<Column> parentColumns();

    /** {@return whether it stands in the schema, as a foreign key; if not, only the rules know of it} */
    boolean declared();

    /**
     * Tells whether an index finds the children of a parent. Without one each deletion of a parent reads the whole child
     * table.
     *
     * @return true if an index begins with the foreign key's columns
     */
    boolean indexed();

    /**
     * Returns where the foreign key stands.
     *
     * @return such as {@code inspection.hive_id}, or {@code frame_check.(apiary_id, hive_no)}
     */
    String where();
}
