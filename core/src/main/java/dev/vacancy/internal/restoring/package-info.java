/** How is the audit trail read, and how is undone what it tells? */
package dev.vacancy.internal.restoring;
