/** How is what happened written down, in the user's own database? */
package dev.vacancy.internal.trail;
