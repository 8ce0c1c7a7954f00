/** What follows a run outside of the database: messages, and who handles them. */
@NullMarked
package dev.vacancy.followup;

import org.jspecify.annotations.NullMarked;
