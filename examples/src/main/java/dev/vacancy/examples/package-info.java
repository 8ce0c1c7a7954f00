/** Programs to copy from. Each runs by itself, on the made-up data of the demo. */
package dev.vacancy.examples;
