/** How is a large deletion cut into pieces that survive a crash? */
@NullMarked
package dev.vacancy.bulk;

import org.jspecify.annotations.NullMarked;
