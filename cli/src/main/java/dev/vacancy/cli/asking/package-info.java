/** What a person or an option answers, who asks, and the work that follows: at once, in chunks, later. */
package dev.vacancy.cli.asking;
