/** How does a column or a table go that isn't needed any more, and come back? */
@NullMarked
package dev.vacancy.retirement;

import org.jspecify.annotations.NullMarked;
