/** How are the pieces of a bulk run claimed, carried out and accounted for? */
package dev.vacancy.internal.chunking;
