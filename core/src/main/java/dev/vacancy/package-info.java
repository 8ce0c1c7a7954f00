/**
 * How does an application use this? The entry to all else is {@link dev.vacancy.Vacancy}.
 *
 * <p>Whatever is handed out here, selections, criteria, plans, questions, approvals, outcomes, is immutable, and so are the collections
 * in it: any thread may read it. No argument may be null unless it says so; no result is.
 */
@NullMarked
package dev.vacancy;

import org.jspecify.annotations.NullMarked;
