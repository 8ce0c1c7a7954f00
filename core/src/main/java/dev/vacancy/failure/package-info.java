/** What went wrong, on which record, and what to do next? The ground that every other package stands on. */
package dev.vacancy.failure;
