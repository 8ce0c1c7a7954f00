/** What should happen to the children on a link when their parent goes? */
@NullMarked
package dev.vacancy.rule;

import org.jspecify.annotations.NullMarked;
