package dev.vacancy.catalog;

import dev.vacancy.internal.catalog.CatalogColumn;

/**
 * A column of a table.
 *
 * @since 0.1
 */
public sealed interface Column permits CatalogColumn {
    /** {@return the name as people write it} */
    String name();

    /** {@return the name as the database stores it} */
    String storedName();

    /** {@return the type as JDBC numbers it, one of {@link java.sql.Types}} */
    int jdbcType();

    /** {@return the database's own name of its type} */
    String typeName();

    /** {@return whether it may be null} */
    boolean nullable();

    /** {@return whether the database computes it, so that it can't be written} */
    boolean generated();
}
