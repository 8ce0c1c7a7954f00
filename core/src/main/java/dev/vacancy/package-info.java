/** How does an application use this? The entry to all else is {@link dev.vacancy.Vacancy}. */
@NullMarked
package dev.vacancy;

import org.jspecify.annotations.NullMarked;
