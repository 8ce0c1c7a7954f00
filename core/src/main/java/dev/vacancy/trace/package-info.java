/** What a database knows of one person, and how all of it is erased in one go. */
@NullMarked
package dev.vacancy.trace;

import org.jspecify.annotations.NullMarked;
