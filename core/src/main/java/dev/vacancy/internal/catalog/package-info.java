/** What does the engine know of tables, columns, links and keys beside what an application sees? */
package dev.vacancy.internal.catalog;
