/** Larkmoor Beekeepers' Co-operative: a schema and a generator of made-up records, the same on every run. */
package dev.vacancy.demo;
