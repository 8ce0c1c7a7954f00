/** Which records are there, and what do they hold? The questions that planning puts to a database, whatever it speaks. */
package dev.vacancy.internal.store;
