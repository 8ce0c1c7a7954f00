/** How is an approved plan carried out? Transactions, locks, and what happened in the end. */
package dev.vacancy.run;
