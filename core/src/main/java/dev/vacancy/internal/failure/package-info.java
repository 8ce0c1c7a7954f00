/** What is said of failures that several rooms meet: each sentence stands once. */
@NullMarked
package dev.vacancy.internal.failure;

import org.jspecify.annotations.NullMarked;
