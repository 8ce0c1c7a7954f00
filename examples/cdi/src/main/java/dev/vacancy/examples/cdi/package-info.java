/** A bean of a Jakarta container that deletes in its transactions. */
package dev.vacancy.examples.cdi;
