/** What happened, and how is it undone? */
@NullMarked
package dev.vacancy.history;

import org.jspecify.annotations.NullMarked;
