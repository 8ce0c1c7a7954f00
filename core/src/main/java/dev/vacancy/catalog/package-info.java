/** What is there? Tables, columns, keys and links, as the database's own metadata tells them. */
package dev.vacancy.catalog;
