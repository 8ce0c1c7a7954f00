/** Deletions that an application declares as methods of an interface, checked against the catalog when they are made. */
@NullMarked
package dev.vacancy.declared;

import org.jspecify.annotations.NullMarked;
