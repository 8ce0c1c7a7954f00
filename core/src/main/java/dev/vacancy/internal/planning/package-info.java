/** How is it worked out what would happen? Reads, and changes nothing. */
package dev.vacancy.internal.planning;
