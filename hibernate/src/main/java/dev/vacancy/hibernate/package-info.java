/** How does an application delete whose records an object mapper maps? */
@NullMarked
package dev.vacancy.hibernate;

import org.jspecify.annotations.NullMarked;
