/** Who agreed to what? The question that a person is asked about a plan, and the proof that somebody agreed. */
package dev.vacancy.confirm;
