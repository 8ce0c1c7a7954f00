/** In which words is a person asked? */
@NullMarked
package dev.vacancy.wording;

import org.jspecify.annotations.NullMarked;
