/** What in schema and rules is wrong or risky, and how is that found? */
package dev.vacancy.internal.check;
