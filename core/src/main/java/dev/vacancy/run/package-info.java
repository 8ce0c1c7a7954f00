/** What came of a run, and why one can come to nothing. */
package dev.vacancy.run;
