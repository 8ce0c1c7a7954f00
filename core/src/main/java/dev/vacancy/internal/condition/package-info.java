/** Which records, in the database's terms? Criteria and selections, held against the catalog. */
package dev.vacancy.internal.condition;
