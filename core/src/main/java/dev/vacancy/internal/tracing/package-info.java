/** What is known of one person, and how is it erased? */
package dev.vacancy.internal.tracing;
