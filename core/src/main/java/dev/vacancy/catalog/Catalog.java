package dev.vacancy.catalog;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import java.util.List;

/**
 * What the database holds: its tables and the links between them.
 *
 * @since 0.1
 */
public sealed interface Catalog permits DatabaseCatalog {
    /**
     * Returns all tables.
     *
     * @return the tables by schema and name
     */
    List<Table> tables();

    /**
     * Returns all links.
     *
     * @return the links by child table and constraint
     */
    List<Link> links();

    /**
     * Returns the links that point to a table.
     *
     * @param parent the table
     * @return its children's foreign keys
     */
    List<Link> linksTo(Table parent);

    /**
     * Returns the links that lead from a table to its parents.
     *
     * @param child the table
     * @return its foreign keys
     */
    List<Link> linksFrom(Table child);

    /**
     * Finds a table by the name that a person gives.
     *
     * @param given the name, with or without its schema, in any case unless two tables differ by case alone
     * @return the table
     * @throws InvalidRequestException when there is none, with the nearest name, or several
     */
    Table table(String given);

    /**
     * Finds a link by where its foreign key stands.
     *
     * @param where such as {@code inspection.hive_id}, or {@code hive.(apiary_id, row_no)} for several columns; in any case
     * @return the link
     * @throws InvalidRequestException when there is none, with the nearest
     */
    Link link(String where);
}
