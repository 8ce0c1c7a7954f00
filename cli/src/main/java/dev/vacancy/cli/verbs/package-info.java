/** One class for each verb, which reads its options and calls the library. */
package dev.vacancy.cli.verbs;
