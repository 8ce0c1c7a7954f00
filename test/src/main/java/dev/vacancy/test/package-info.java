/** How does an application test what it deletes? */
@NullMarked
package dev.vacancy.test;

import org.jspecify.annotations.NullMarked;
