/** How does an application take its rules from a file? */
@NullMarked
package dev.vacancy.yaml;

import org.jspecify.annotations.NullMarked;
