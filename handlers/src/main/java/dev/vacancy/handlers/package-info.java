/** Handlers of what follows runs: files below a folder, and events for another service. */
@NullMarked
package dev.vacancy.handlers;

import org.jspecify.annotations.NullMarked;
