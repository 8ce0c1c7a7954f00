/** What is there? Tables, columns, keys and links, as the database's own metadata tells them. */
@NullMarked
package dev.vacancy.catalog;

import org.jspecify.annotations.NullMarked;
