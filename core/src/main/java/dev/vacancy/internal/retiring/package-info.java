/** How does a column or a table retire, and come back? */
package dev.vacancy.internal.retiring;
