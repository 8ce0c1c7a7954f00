/** What happened, and how is it undone? */
package dev.vacancy.history;
