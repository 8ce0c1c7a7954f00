/** How are documents deleted? The same words and calls as over a relational database, on documents that refer to each other. */
@NullMarked
package dev.vacancy.documents;

import org.jspecify.annotations.NullMarked;
