/** How is an approved plan carried out? Transactions, locks, steps, and the proof that no more was done. */
package dev.vacancy.internal.running;
