/** When does a bulk run begin, and who works on it? Deletions that are due later or again, and workers that share them. */
package dev.vacancy.schedule;
