/**
 * How does this database say it? The only package that names a database, and the only one that holds SQL. A further
 * database is one more class that implements {@link dev.vacancy.internal.dialect.Dialect}.
 */
package dev.vacancy.internal.dialect;
