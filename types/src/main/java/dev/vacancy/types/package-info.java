/** Writes one class for each table of a catalog, so that the compiler checks what an application says of tables, columns and keys. */
@NullMarked
package dev.vacancy.types;

import org.jspecify.annotations.NullMarked;
