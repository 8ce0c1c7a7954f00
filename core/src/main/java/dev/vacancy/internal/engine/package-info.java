/** How does an application enter the engine? Behind {@code Vacancy}: whoever acts, transactions, listeners, what a database still needs. */
package dev.vacancy.internal.engine;
