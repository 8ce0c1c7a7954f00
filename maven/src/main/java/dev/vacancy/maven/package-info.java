/** Makes one class for each table of a database while an application is built. */
@NullMarked
package dev.vacancy.maven;

import org.jspecify.annotations.NullMarked;
